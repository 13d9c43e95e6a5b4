import { spawn, type ChildProcess } from 'node:child_process'
import { setTimeout as pause } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test, vi } from 'vitest'
import { startPgbouncer, type OwnPgbouncer } from '../../scripts/lib/pgbouncer.mjs'
import { startPostgres, type OwnPostgres, type OwnStandby } from '../../scripts/lib/postgres.mjs'
import { createApiKey } from '../backend/accounts/index.ts'
import { openDatabase, type Database } from '../backend/platform/db.ts'
import { makeLog } from '../backend/platform/log.ts'
import { AskerGoneError, openReading, type Asker } from '../backend/platform/reading.ts'
import { Standby } from '../backend/platform/standby.ts'
import { HOUR_MS } from '../core/shared/duration.ts'
import { asked, placesIn } from '../testing/asked.ts'
import { aDefinition, anEmail, orderEvent, START, wait } from '../testing/builders.ts'
import { makeTemplate } from '../testing/database.ts'
import { startMailServer } from '../testing/mailServer.ts'
import { addPeople, PASSWORD, testConfig } from '../testing/people.ts'
import { LINK_SECRET, makeWorld, SHOP, type World } from '../testing/world.ts'
import { buildApp } from './app.ts'
import type { App } from './context.ts'

const ORIGIN = 'http://localhost:8080'

let postgres: OwnPostgres
let standby: OwnStandby
let pooler: OwnPgbouncer
let world: World
/** A server all of whose queries go through the pooler, and its reports to the standby. */
let app: App
/** The database, behind the pooler. */
let pooled: Database
let name: string
let key: string
beforeAll(async () => {
  // Servers of its own: one of them is killed.
  postgres = await startPostgres('machines', { fresh: true })
  vi.stubEnv('TEST_DATABASE_URL', postgres.urlOf('postgres'))
  await makeTemplate()
  world = await makeWorld()
  await addPeople(world.db)
  key = (await createApiKey(world.db, SHOP, 'tests')).key
  await world.publish(aDefinition({ name: 'By event', steps: [wait('w', 'P1D'), anEmail('m')] }))
  await world.publish(aDefinition({
    name: 'By date',
    trigger: { kind: 'date', field: 'customer.lastOrderAt', direction: 'after', days: 30, at: '09:00', zone: 'shop' },
    steps: [anEmail('m', { subject: 'we miss you' })],
  })) // prettier-ignore
  await world.post(...['1', '2'].map(order))
  await world.moveTo(START + 25 * HOUR_MS)
  standby = await postgres.startStandby()
  pooler = await startPgbouncer(postgres.urlOf('postgres'))
  name = new URL(world.url).pathname.slice(1)
  pooled = openDatabase(pooler.urlOf(name), { connections: 40 })
  const config = testConfig({ DATABASE_URL: pooler.urlOf(name), STANDBY_URL: standby.urlOf(name), PORT: 8080, SMTP_URL: world.smtpUrl }) // prettier-ignore
  app = await buildApp({ db: pooled, config, publicUrl: ORIGIN, log: makeLog('silent') })
})
afterAll(async () => {
  for (const child of children) child.kill('SIGKILL')
  await app.close()
  await pooled.$client.end()
  await pooler.stop()
  await standby.stop()
  await world.close()
  await postgres.stop()
  vi.unstubAllEnvs()
})

const order = (id: string) =>
  orderEvent('order.placed', START, { id, number: `10${id}`, customerId: `c${id}` }, { id: `c${id}`, email: `somebody${id}@example.org` }) // prettier-ignore

const postEvents = (...events: object[]) =>
  app.inject({ method: 'POST', url: '/v1/events', headers: { authorization: `Bearer ${key}` }, payload: events }) // prettier-ignore

async function signIn(): Promise<{ cookie: string; origin: string }> {
  const answer = await app.inject({ method: 'POST', url: '/api/session', headers: { origin: ORIGIN }, payload: { email: 'maren@combwright.example', password: PASSWORD } }) // prettier-ignore
  return { origin: ORIGIN, cookie: String(answer.headers['set-cookie']).split(';')[0] ?? '' }
}

const staying: Asker = { onGone: () => undefined }

test('behind a pooler in transaction mode every screen is answered, and a few connections do for many askers', async () => {
  const headers = await signIn()
  const questions = asked(await placesIn(world.db, SHOP))
  const ask = ({ method = 'GET', url, payload }: (typeof questions)[number]) =>
    app.inject({ method, url, headers, ...(payload && { payload }) })
  const answers = await Promise.all([...questions, ...questions].map(ask))
  expect(answers.filter(({ statusCode }) => statusCode >= 400).map(({ body }) => body)).toEqual([])
  const { rows } = await world.db.execute<{ count: number }>(sql`
    select count(*)::int as count from pg_stat_activity where datname = current_database() and application_name <> 'yomble direct' and pid <> pg_backend_pid() and client_port is not null`) // prettier-ignore
  // 12 are the pooler’s; the rest are this test’s own, which go directly.
  expect(rows[0]?.count).toBeLessThanOrEqual(12 + world.db.$client.totalCount)
})

test('what nobody waits for any more is cancelled behind the pooler too, and hits nobody else', async () => {
  const reading = openReading(pooler.urlOf(name), pooled)
  let leave: () => void = () => undefined
  const asker = { onGone: (callback: () => void) => (leave = callback) }
  const asksLong = reading.run(asker, (tx) => tx.execute(sql`select pg_sleep(60)`)).then(String, (error: unknown) => error) // prettier-ignore
  const isAtWork = async () => (await world.db.execute(sql`select 1 from pg_stat_activity where datname = current_database() and wait_event = 'PgSleep'`)).rows.length > 0 // prettier-ignore
  while (!(await isAtWork())) continue
  const others = Array.from({ length: 30 }, () => pooled.execute(sql`select pg_sleep(0.01)`))
  leave()
  expect(await asksLong).toBeInstanceOf(AskerGoneError)
  await Promise.all(others)
  // Limits of time are of one transaction: whoever has the connection next has none.
  const { rows } = await pooled.execute(sql`select current_setting('statement_timeout') as limit`)
  expect(rows).toEqual([{ limit: '0' }])
  await reading.close()
})

test('reports come from the standby, unless it is behind what the shop itself has changed', async () => {
  let now = 0
  const follower = new Standby(standby.urlOf(name), world.db, () => now)
  const reading = openReading(world.url, world.db, follower)
  const other = openDatabase(standby.urlOf(name), { connections: 1 })
  const nameOfShop = (shopId?: string) =>
    reading.run(shopId === undefined ? staying : { ...staying, shopId }, async (tx) => {
      const { rows } = await tx.execute<{ name: string; copy: boolean }>(sql`select name, pg_is_in_recovery() as copy from shops where id = ${SHOP}`) // prettier-ignore
      return rows[0]
    })
  const onStandby = () => vi.waitFor(async () => expect(await nameOfShop(SHOP)).toMatchObject({ copy: true }), 10_000) // prettier-ignore
  await onStandby()
  // The standby stops to follow; the shop's own people see what they do, others what it was for a while.
  await other.execute(sql`select pg_wal_replay_pause()`)
  await vi.waitFor(async () => {
    const { rows } = await other.execute(sql`select pg_get_wal_replay_pause_state() as state`)
    expect(rows).toEqual([{ state: 'paused' }])
  })
  await world.db.execute(sql`update shops set name = 'Renamed' where id = ${SHOP}`)
  expect(await nameOfShop()).toEqual({ name: 'Combwright', copy: true })
  reading.changed(SHOP)
  expect(await nameOfShop(SHOP)).toEqual({ name: 'Renamed', copy: false })
  expect(await nameOfShop(SHOP)).toEqual({ name: 'Renamed', copy: false })
  await other.execute(sql`select pg_wal_replay_resume()`)
  await onStandby()
  expect(await nameOfShop(SHOP)).toEqual({ name: 'Renamed', copy: true })
  // Nobody sees what is older than ten seconds.
  await other.execute(sql`select pg_wal_replay_pause()`)
  await world.db.execute(sql`update shops set name = 'Combwright' where id = ${SHOP}`)
  for (; now < 12_000; now += 2000) await nameOfShop()
  expect(await nameOfShop()).toEqual({ name: 'Combwright', copy: false })
  await other.execute(sql`select pg_wal_replay_resume()`)
  await onStandby()
  // One that is gone is done without, and used again when it is back.
  await other.$client.end()
  await standby.kill()
  expect(await nameOfShop(SHOP)).toEqual({ name: 'Combwright', copy: false })
  await standby.start()
  now += 20_000
  await onStandby()
  // What is kept for the next asker is written to the primary.
  const kept = await reading.runAndKeep(staying, async (tx) => (await tx.execute(sql`select pg_is_in_recovery() as copy`)).rows) // prettier-ignore
  expect(kept).toEqual([{ copy: false }])
  await reading.close()
})

const children = new Set<ChildProcess>()

/** A worker that goes to PostgreSQL directly, as they do: it holds a lock for as long as it lives. */
function startWorker(url: string, smtpUrl: string): ChildProcess {
  const child = spawn(process.execPath, ['--import', 'tsx', 'src/worker/main.ts'], {
    env: { ...process.env, DATABASE_URL: url, SMTP_URL: smtpUrl, LINK_SECRET, LOG_LEVEL: 'silent' },
    stdio: 'ignore',
  })
  children.add(child)
  child.once('exit', () => children.delete(child))
  return child
}

test('the primary dies and the standby takes its place: nothing that was taken is lost, and what is sent twice is said', async () => {
  const mailServer = await startMailServer()
  const { mails } = mailServer
  const atOnce = await world.publish(aDefinition({ name: 'At once', steps: [anEmail('m')] }))
  // A change counts once the standby has it, too.
  await world.db.execute(sql`alter system set synchronous_standby_names = '*'`)
  await world.db.execute(sql`select pg_reload_conf()`)
  const first = startWorker(world.url, mailServer.url)
  const died = new Promise((resolve) => first.once('exit', resolve))
  const taken: string[] = []
  const sends = { goesOn: true }
  const sender = async () => {
    for (let index = 0; sends.goesOn || index < 40; index += 1) {
      const id = `over${index}`
      for (;;) {
        const answer = await postEvents(order(id))
        if (answer.statusCode === 200) break
        // Whoever sends is told to try again, and loses nothing by it.
        expect(answer.statusCode).toBe(503)
        expect(answer.headers['retry-after']).toBeDefined()
        await pause(100)
      }
      taken.push(id)
      await pause(20)
    }
  }
  const sending = sender()
  await vi.waitFor(() => expect(mails.size).toBeGreaterThan(10), { timeout: 60_000, interval: 20 })
  await postgres.kill()
  // It ends by itself: others may take it for dead.
  await died
  await standby.promote()
  pooler.leadTo(standby.urlOf('postgres'))
  startWorker(standby.urlOf(name), mailServer.url)
  const before = taken.length
  await vi.waitFor(() => expect(taken.length).toBeGreaterThan(before + 10), {
    timeout: 60_000,
    interval: 20,
  })
  sends.goesOn = false
  await sending
  const promoted = openDatabase(standby.urlOf(name), { connections: 2 })
  await promoted.execute(sql`alter system set synchronous_standby_names = ''`)
  await promoted.execute(sql`select pg_reload_conf()`)
  const open = () => promoted.execute(sql`select 1 from messages where status in ('queued', 'handingOver', 'held')`) // prettier-ignore
  const started = () => promoted.execute(sql`select 1 from runs where workflow_id = ${atOnce}`)
  await vi.waitFor(
    async () => {
      expect((await started()).rows).toHaveLength(taken.length)
      expect((await open()).rows).toEqual([])
    },
    { timeout: 60_000, interval: 200 },
  )
  // What was being handed over at that very moment: a receipt is sent once more, and the ledger says so; marketing would not be.
  const { rows: resent } = await promoted.execute<{ id: string }>(sql`
    select m.message_id as id from ledger l join messages m on m.run_id = l.run_id and m.step = l.entry->>'step'
    where l.kind = 'unsure' and l.entry->>'resent' = 'true'`)
  const known = new Set(resent.map(({ id }) => id))
  expect([...mails].filter(([id, copies]) => copies.length > (known.has(id) ? 2 : 1))).toEqual([])
  const { rows: messages } = await promoted.execute<{ id: string }>(sql`select message_id as id from messages where workflow_id = ${atOnce}`) // prettier-ignore
  expect(messages).toHaveLength(taken.length)
  expect(messages.filter(({ id }) => !mails.has(id))).toEqual([])
  await promoted.$client.end()
  // It would wait for the worker's open connections.
  for (const child of children) child.kill('SIGKILL')
  await mailServer.stop()
})
