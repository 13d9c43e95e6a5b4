import { fileURLToPath } from 'node:url'
import { readConfig } from '../backend/platform/config.ts'
import { openDatabase } from '../backend/platform/db.ts'
import { makeLog } from '../backend/platform/log.ts'
import { buildApp } from './app.ts'

const config = readConfig(process.env)
const log = makeLog(config.LOG_LEVEL)
const db = openDatabase(config.DATABASE_URL)
const publicUrl = (config.PUBLIC_URL ?? `http://${config.HOST}:${config.PORT}`).replace(/\/$/, '')
const webFolder = fileURLToPath(new URL('../web', import.meta.url))
const app = await buildApp({ db, config, publicUrl, log, webFolder })
await app.listen({ host: config.HOST, port: config.PORT })
// Whoever started this process may wait for it.
process.send?.('ready')
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.once(signal, () => {
    app
      .close()
      .then(() => db.$client.end())
      .then(
        () => process.exit(0),
        () => process.exit(1),
      )
  })
}
