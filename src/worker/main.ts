import { readConfig } from '../backend/platform/config.ts'
import { makeLog } from '../backend/platform/log.ts'
import { untilStopped } from '../backend/platform/untilStopped.ts'
import { startWorkers } from './cells.ts'

const config = readConfig(process.env)
const log = makeLog(config.LOG_LEVEL)
const stop = await startWorkers({ config, log, onLost: () => process.exit(1) })
log.info('worker started')
await untilStopped(stop)
