import { readConfig } from '../backend/platform/config.ts'
import { makeLog } from '../backend/platform/log.ts'
import { startWorker } from './worker.ts'

const config = readConfig(process.env)
const log = makeLog(config.LOG_LEVEL)
const stop = await startWorker({ config, log, onLost: () => process.exit(1) })
log.info('worker started')
// Whoever started this process may wait for it.
process.send?.('ready')
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.once(signal, () => {
    stop().then(
      () => process.exit(0),
      () => process.exit(1),
    )
  })
}
