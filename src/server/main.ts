import { readConfig } from '../backend/platform/config.ts'
import { makeLog } from '../backend/platform/log.ts'
import { untilStopped } from '../backend/platform/untilStopped.ts'
import { startServer } from './run.ts'

const config = readConfig(process.env)
await untilStopped(await startServer(config, makeLog(config.LOG_LEVEL)))
