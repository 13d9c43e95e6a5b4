import { fork, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { fileURLToPath } from 'node:url'
import { keepApiKey } from '../backend/accounts/index.ts'
import { openDatabase, type Database } from '../backend/platform/db.ts'
import { publicUrlOf, readConfig, type Config } from '../backend/platform/config.ts'
import { migrateDatabase } from '../backend/platform/migrate.ts'
import { MIGRATIONS } from '../backend/platform/migrationsFolder.ts'
import { readDkim, smtpMailer } from '../backend/messages/index.ts'
import { migrateJobs } from '../backend/platform/jobs.ts'
import { storeMail, storeText } from '../backend/mailbox/index.ts'
import { Programs } from '../drivers/live/programs.ts'
import { startDnsServer } from '../simulated/dnsServer.ts'
import { startSmsGateway } from '../simulated/smsGateway.ts'
import { startSmtpServer } from '../simulated/smtpServer.ts'
import { countShop } from '../worker/keepCounting.ts'
import { makeTasks } from '../worker/tasks.ts'
import { sendingWith } from '../worker/worker.ts'
import { liveInThread } from './lived/inThreads.ts'
import { liveLastHours, type Work } from './lastHours.ts'
import { DEMO_RETURN_PATH, DEMO_ZONE } from './zone.ts'
import { DEMO_PASSWORD, DEMO_SHOP, DEMO_USERS, isSeeded, seedPast } from './seed.ts'

const say = (text: string): void => console.log(`• ${text}`)
const children: ChildProcess[] = []
let stopping = false
const counting = new AbortController()

/**
 * Runs everything: here the mail server and the text gateway that stand in for the world's, and a process
 * each for server and worker, so that neither keeps the other waiting.
 */
async function main(): Promise<void> {
  const given = readConfig(process.env)
  const db = openDatabase(given.DATABASE_URL)
  await migrateDatabase(db, MIGRATIONS)
  await migrateJobs(db)
  const smtp = await startSmtpServer(({ raw, recipients }) =>
    storeMail(db, DEMO_SHOP, raw, recipients),
  )
  const gateway = await startSmsGateway((sms) => storeText(db, DEMO_SHOP, sms))
  const dns = await startDnsServer(() => DEMO_ZONE)
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.once(signal, () => {
      const stop = async () => {
        stopping = true
        counting.abort()
        await stopChildren()
        await smtp.close()
        await gateway.close()
        await dns.close()
        await db.$client.end()
      }
      stop().then(
        () => process.exit(0),
        () => process.exit(1),
      )
    })
  }
  const publicUrl = publicUrlOf(given)
  const env = {
    ...process.env,
    SMTP_URL: `smtp://127.0.0.1:${smtp.port}`,
    SMS_URL: gateway.url,
    DNS_SERVER: dns.address,
    RETURN_PATH: DEMO_RETURN_PATH,
    HOOKS_ALLOW_PRIVATE: 'true',
    PUBLIC_URL: publicUrl,
  }
  const startOver = process.env['DEMO_FRESH'] === '1'
  const server = startChild('server', env)
  const recent =
    !startOver && (await isSeeded(db))
      ? null
      : await seedPast(db, say, { livePart: liveInThread(given.DATABASE_URL) })
  const gatewayKey = process.env['GATEWAY_KEY']
  if (gatewayKey) {
    await keepApiKey(db, DEMO_SHOP, { name: 'Text gateway (simulated)', key: gatewayKey })
    gateway.reportTo({
      url: `${publicUrl}/v1/texts/reports`,
      authorization: `Bearer ${gatewayKey}`,
    })
  }
  await server
  if (recent) {
    say(`Living through the last morning: ${recent.length} events come in one by one`)
    await liveLastHours(await workOf(db, readConfig(env)), recent)
  }
  await startChild('worker', env)
  const names = DEMO_USERS.map(({ email, role }) => `${email} (${role})`).join(' or ')
  console.log(
    `\nYomble is ready: ${publicUrl}\nSign in as ${names}, password “${DEMO_PASSWORD}”.\nCtrl-C stops everything.`,
  )
  // The worker would do it within a minute; whoever looks around at once shall not wait either.
  if (recent) await countShop(db, DEMO_SHOP, counting.signal)
}

/** What a worker would do, done here as long as there is none. */
async function workOf(db: Database, config: Config): Promise<Work> {
  const programs = new Programs()
  const mailer = smtpMailer(config.SMTP_URL, { connections: 4, dkim: readDkim(config) })
  return { db, programs, tasks: makeTasks(sendingWith(config, { db, programs, mailer, workerId: 'w-demo' })), done: () => mailer.close() } // prettier-ignore
}

/** Starts the server or the worker, and waits until it says that it is at work. */
async function startChild(name: 'server' | 'worker', env: NodeJS.ProcessEnv): Promise<void> {
  const child = fork(fileURLToPath(new URL(`${name}.js`, import.meta.url)), { env })
  children.push(child)
  child.once('exit', (code) => {
    if (stopping) return
    console.error(`The ${name} ended with exit code ${code}; what it said is above.`)
    process.exitCode = 1
    process.kill(process.pid, 'SIGTERM')
  })
  await once(child, 'message')
}

async function stopChildren(): Promise<void> {
  await Promise.all(
    children.map(async (child) => {
      if (child.exitCode !== null || child.signalCode !== null) return
      const ended = once(child, 'exit')
      child.kill('SIGTERM')
      await ended
    }),
  )
}

try {
  await main()
} catch (error) {
  // Whoever stops it while it is still being loaded has taken the database from under it.
  if (!stopping) throw error
}
