import { fileURLToPath } from 'node:url'
import { createApiKey, listApiKeys, revokeApiKey } from '../backend/accounts/index.ts'
import { openDatabase, migrateDatabase, type Database } from '../backend/platform/db.ts'
import { readConfig } from '../backend/platform/config.ts'
import { migrateJobs } from '../backend/platform/jobs.ts'
import { makeLog } from '../backend/platform/log.ts'
import { storeMail, storeText } from '../backend/mailbox/index.ts'
import { buildApp } from '../server/app.ts'
import { startSmsGateway } from '../standins/smsGateway.ts'
import { startSmtpServer } from '../standins/smtpServer.ts'
import { startWorker } from '../worker/worker.ts'
import { DEMO_PASSWORD, DEMO_SHOP, DEMO_USERS, isSeeded, liveThrough, seedPast } from './seed.ts'

const say = (text: string): void => console.log(`• ${text}`)

/** Everything in one process: SMTP stand-in, worker, server. */
async function main(): Promise<void> {
  const given = readConfig(process.env)
  const log = makeLog(given.LOG_LEVEL)
  const db = openDatabase(given.DATABASE_URL)
  await migrateDatabase(db, fileURLToPath(new URL('../../migrations', import.meta.url)))
  await migrateJobs(db)
  const smtp = await startSmtpServer(({ raw, recipients }) =>
    storeMail(db, DEMO_SHOP, raw, recipients),
  )
  const gateway = await startSmsGateway((sms) => storeText(db, DEMO_SHOP, sms))
  const publicUrl = given.PUBLIC_URL ?? `http://${given.HOST}:${given.PORT}`
  const config = {
    ...given,
    SMTP_URL: `smtp://127.0.0.1:${smtp.port}`,
    SMS_URL: gateway.url,
    HOOKS_ALLOW_PRIVATE: true,
    PUBLIC_URL: publicUrl,
  }
  const startOver = process.env['DEMO_FRESH'] === '1'
  const recent = !startOver && (await isSeeded(db)) ? null : await seedPast(db, publicUrl, say)
  const stopWorker = await startWorker({ config, log, onLost: () => process.exit(1) })
  const webFolder = fileURLToPath(new URL('../web', import.meta.url))
  const app = await buildApp({ db, config, publicUrl, log, webFolder })
  await app.listen({ host: config.HOST, port: config.PORT })
  const key = await newKeyFor(db, 'Text gateway (simulated)')
  gateway.reportTo({ url: `${publicUrl}/v1/texts/reports`, authorization: `Bearer ${key}` })
  if (recent) await liveThrough(db, recent, say)
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.once(signal, () => {
      const stop = async () => {
        await app.close()
        await stopWorker()
        await smtp.close()
        await gateway.close()
        await db.$client.end()
      }
      stop().then(
        () => process.exit(0),
        () => process.exit(1),
      )
    })
  }
  const names = DEMO_USERS.map(({ email, role }) => `${email} (${role})`).join(' or ')
  console.log(
    `\nYomble is ready: ${publicUrl}\nSign in as ${names}, password “${DEMO_PASSWORD}”.\nCtrl-C stops everything.`,
  )
}

/** A key for a stand-in that calls in; the one it had at an earlier start is revoked. */
async function newKeyFor(db: Database, name: string): Promise<string> {
  for (const { id } of (await listApiKeys(db, DEMO_SHOP)).filter((key) => key.name === name)) {
    await revokeApiKey(db, DEMO_SHOP, id)
  }
  return (await createApiKey(db, DEMO_SHOP, name)).key
}

await main()
