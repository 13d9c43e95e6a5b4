import { spawn, type ChildProcess } from 'node:child_process'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import { SMTPServer } from 'smtp-server'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { startPostgres, type OwnPostgres } from '../../scripts/lib/postgres.mjs'
import { createApiKey } from '../backend/accounts/index.ts'
import { ingestEvents, requestClockMove, setClock } from '../backend/shop/index.ts'
import { DAY_MS } from '../core/shared/duration.ts'
import { seededRandom } from '../core/shared/seededRandom.ts'
import { aDefinition, anEmail, at, orderEvent, wait } from '../testing/builders.ts'
import { freePort } from '../testing/freePort.ts'
import { makeSmallDisk, type SmallDisk } from '../testing/smallDisk.ts'
import { makeTemplate } from '../testing/database.ts'
import { LINK_SECRET, makeWorld, SHOP, type World } from '../testing/world.ts'

/** `npm run storm` has a longer one, with servers that are killed as well; every test run has the short one. */
const IS_LONG = process.env['STORM'] === 'long'
const ORDERS = IS_LONG ? 1000 : 150
const KILLS = IS_LONG ? 24 : 6
const WORKERS = IS_LONG ? 3 : 2
/** Events come in over HTTP by so many; none: they are handed to the database directly. */
const SERVERS = IS_LONG ? 2 : 0
/** The cluster, its log of changes, and what thousands of messages take. */
const DISK_MB = 1600
const FULL_MS = 3000
/** How late the mail server answers when it is slow. */
const SLOW_MS = 400
/** Clocks in Lisbon go back an hour in the night to Sunday, 25 October 2026. */
const BEGIN = at('2026-10-23T14:00:00Z')

let postgres: OwnPostgres
/** Where the database of the long storm lives; null where no such disk can be made. */
let disk: SmallDisk | null = null
let world: World
let server: SMTPServer
let port = 0
const random = seededRandom(8)

/** What the mail server did, for the numbers in docs/reliability.md. */
const weather = { taken: 0, later: 0, slow: 0, hungUp: 0, refused: 0 }
/** How often each mail has arrived, by its Message-ID: kept apart from the database that breaks. */
const arrived = new Map<string, number>()

/** A mail server in bad weather: now and then it says "later", is slow, or goes away after the text. */
function stormyServer(): SMTPServer {
  const own = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    onConnect: (_session, callback) => {
      if (!random.chance(0.05)) return callback()
      weather.refused += 1
      return callback(Object.assign(new Error('421 too busy'), { responseCode: 421 }))
    },
    onData: (stream, _session, callback) => {
      const chunks: Buffer[] = []
      stream.on('data', (chunk: Buffer) => chunks.push(chunk))
      stream.on('end', () => {
        takeText(own, Buffer.concat(chunks).toString()).then(() => callback(), callback)
      })
    },
  })
  own.on('error', () => undefined)
  return own
}

/** Takes a mail in and answers, or not. Throws what is answered as "later". */
async function takeText(own: SMTPServer, text: string): Promise<void> {
  if (random.chance(0.08)) {
    weather.later += 1
    throw Object.assign(new Error('451 later'), { responseCode: 451 })
  }
  const id = /^Message-ID: (\S+)/im.exec(text)?.[1] ?? ''
  arrived.set(id, (arrived.get(id) ?? 0) + 1)
  weather.taken += 1
  if (random.chance(0.04)) {
    weather.hungUp += 1
    // It has the text, and the answer finds nobody.
    for (const connection of own.connections) connection.close()
    return
  }
  if (random.chance(0.05)) {
    weather.slow += 1
    await pause(SLOW_MS)
  }
}

beforeEach(async () => {
  // A server of its own, since it will crash and other tests run beside this one.
  disk = IS_LONG ? makeSmallDisk(join(tmpdir(), 'yomble-storm-disk'), DISK_MB) : null
  postgres = await startPostgres('storm', { fresh: true, ...(disk && { within: disk.folder }) })
  vi.stubEnv('TEST_DATABASE_URL', postgres.urlOf('postgres'))
  await makeTemplate()
  world = await makeWorld()
  server = stormyServer()
  port = await new Promise((resolve) => {
    const listener = server.listen(0, '127.0.0.1', () =>
      resolve((listener.address() as { port: number }).port),
    )
  })
})
afterEach(async () => {
  for (const child of [...workers, ...servers.values()]) child.kill('SIGKILL')
  await new Promise<void>((done) => server.close(() => done()))
  await world.close()
  vi.unstubAllEnvs()
  await postgres.stop()
  disk?.remove()
})

const workers = new Set<ChildProcess>()
const servers = new Map<number, ChildProcess>()
let stopping = false

/** Keeps a worker process running, as a supervisor does: one that dies is followed by another. */
function supervise(): void {
  const child = startProcess('src/worker/main.ts', {})
  workers.add(child)
  child.once('exit', () => {
    workers.delete(child)
    if (!stopping) supervise()
  })
}

/** The same for a server at a port. */
function superviseServer(own: number): void {
  const child = startProcess('src/server/main.ts', { PORT: String(own) })
  servers.set(own, child)
  child.once('exit', () => {
    if (!stopping) superviseServer(own)
  })
}

function startProcess(main: string, env: NodeJS.ProcessEnv): ChildProcess {
  return spawn(
    process.execPath,
    ['--import', 'tsx', '--import', './src/testing/jumpyClock.ts', main],
    {
      env: {
        ...process.env,
        ...env,
        DATABASE_URL: world.url,
        SMTP_URL: `smtp://127.0.0.1:${port}`,
        LINK_SECRET,
        LOG_LEVEL: 'silent',
      },
      stdio: 'ignore',
    },
  )
}

/** Hands events in, in batches, and again until a server says that it has them, as a shop's system does. */
async function handIn(events: readonly object[]): Promise<number> {
  if (SERVERS === 0) {
    const receipts = await ingestEvents(world.db, SHOP, [...events])
    return receipts.filter(({ status }) => status === 'accepted').length
  }
  let accepted = 0
  const ports = [...servers.keys()]
  for (let from = 0; from < events.length; from += BATCH) {
    const body = JSON.stringify(events.slice(from, from + BATCH))
    for (let tries = 0; ; tries += 1) {
      const answer = await fetch(`http://127.0.0.1:${ports[tries % ports.length]}/v1/events`, { method: 'POST', body, headers: { authorization: `Bearer ${key}`, 'content-type': 'application/cloudevents-batch+json' } }).catch(() => null) // prettier-ignore
      const read = answer?.ok ? await answer.json().catch(() => null) : null
      if (read !== null) {
        accepted += (read as { accepted: number }).accepted
        break
      }
      if (tries > 2000) throw new Error(`No server takes events: ${answer?.status}`)
      await pause(100)
    }
  }
  return accepted
}
const BATCH = 50
let key = ''

async function publishAll(): Promise<void> {
  await world.publish(
    aDefinition({
      steps: [
        wait('w', 'PT1H'),
        anEmail('receipt', { subject: 'receipt' }),
        { key: 'next', kind: 'wait', for: 'P1D', at: '09:00' },
        anEmail('advice', { subject: 'advice', purpose: 'marketing' }),
        {
          key: 'paid',
          kind: 'waitFor',
          event: 'order.paid',
          about: 'subject',
          limit: 'P2D',
          came: [anEmail('thanks', { subject: 'thanks' })],
          otherwise: [anEmail('reminder', { subject: 'reminder', purpose: 'marketing' })],
        },
      ],
    }),
  )
}

const order = (index: number, type: 'order.placed' | 'order.paid', time: number) =>
  orderEvent(
    type,
    time,
    { id: `o${index}`, number: String(index), customerId: `c${index}` },
    { email: `c${index}@example.org`, zone: null },
  )

const stateOf = async (): Promise<Record<string, number | null>> => {
  const { rows } = await world.db.execute(`select
    (select clock_target from shops) as target,
    (select count(*) from messages where status in ('queued', 'handingOver', 'held')) as open,
    (select count(*) from runs where status = 'inProgress') as runs`)
  return rows[0] as Record<string, number | null>
}

/** Breaks every connection to the database at once, as a network that fails does. */
const breakConnections = () =>
  world.db.execute(`select pg_terminate_backend(pid) from pg_stat_activity
    where datname = current_database() and pid <> pg_backend_pid()`)

/** Nothing can be written for a while; then somebody makes room, and starts the database again if that had ended it. */
async function fullDisk(own: SmallDisk): Promise<void> {
  own.fill()
  await pause(FULL_MS)
  own.free()
  const answers = await world.db.execute('select 1').then(
    () => true,
    () => false,
  )
  if (!answers) await postgres.crash()
}

const mailsOf = (row: Record<string, unknown>): number =>
  arrived.get(String(row['message_id'])) ?? 0

async function settled(what: 'target' | 'all'): Promise<void> {
  await vi.waitFor(
    async () => {
      const state = await stateOf()
      expect(state['target']).toBeNull()
      if (what === 'all') expect(state).toEqual({ target: null, open: 0, runs: 0 })
    },
    { timeout: IS_LONG ? 900_000 : 480_000, interval: 150 },
  )
}

test('days of shop time in bad weather: nothing is lost, nothing is doubled', async () => {
  await setClock(world.db, SHOP, BEGIN)
  await publishAll()
  stopping = false
  for (let number = 0; number < WORKERS; number += 1) supervise()
  key = (await createApiKey(world.db, SHOP, 'storm')).key
  for (let number = 0; number < SERVERS; number += 1) superviseServer(await freePort())
  const placed = Array.from({ length: ORDERS }, (_, index) =>
    order(index, 'order.placed', BEGIN - index),
  )
  // Two senders hand in the same events at the same time.
  const handed = Promise.all([handIn(placed), handIn(placed.toReversed())])
  if (SERVERS > 0) {
    await pause(SLOW_MS)
    for (const child of servers.values()) child.kill('SIGKILL')
  }
  // What was taken by a server that died before it could say so is not told twice.
  const [one, other] = await handed
  if (SERVERS === 0) expect(one + other).toBe(ORDERS)
  else expect(one + other).toBeLessThanOrEqual(ORDERS)

  let killed = 0
  let serversKilled = 0
  let broken = 0
  let crashed = 0
  let full = 0
  const disaster = async (): Promise<void> => {
    await vi.waitFor(() => expect(workers.size).toBe(WORKERS), { timeout: 30_000 })
    const [victim] = [...workers]
    const begun = weather.taken
    await vi
      .waitFor(() => expect(weather.taken).toBeGreaterThan(begun), { timeout: 60_000, interval: 5 })
      .catch(() => undefined)
    if (disk && killed % 4 === 3) {
      await fullDisk(disk)
      full += 1
    }
    if (killed % 3 === 1) {
      await postgres.crash()
      crashed += 1
    }
    if (killed % 3 === 2) {
      await breakConnections()
      broken += 1
    }
    victim?.kill('SIGKILL')
    killed += 1
    const answering = [...servers.values()][killed % Math.max(1, SERVERS)]
    if (answering?.kill('SIGKILL')) serversKilled += 1
  }
  const target = BEGIN + 2.5 * DAY_MS
  await requestClockMove(world.db, SHOP, target)
  for (let number = 0; number < KILLS / 2; number += 1) await disaster()
  await settled('target')
  const paid = placed
    .filter((_, index) => index % 2 === 0)
    .map((_, index) => order(index * 2, 'order.paid', target))
  await Promise.all([handIn(paid), handIn(paid)])
  await requestClockMove(world.db, SHOP, target + 4 * DAY_MS)
  for (let number = 0; number < KILLS / 2; number += 1) await disaster()
  await settled('all')
  stopping = true

  const { rows } = await world.db
    .execute(`select m.step, m.status, m.marketing, m.decided_at, m.message_id,
      exists(select 1 from ledger l where l.run_id = m.run_id and l.kind = 'unsure'
        and l.entry->>'step' = m.step) as unsure
    from messages m`)
  console.log(
    'storm',
    JSON.stringify({
      ...weather,
      killed,
      serversKilled,
      broken,
      crashed,
      full,
      messages: rows.length,
      unsure: rows.filter(({ unsure }) => unsure).length,
    }),
  )
  expect(rows).toHaveLength(3 * ORDERS)
  const count = (step: string) => rows.filter((row) => row['step'] === step).length
  expect([count('receipt'), count('advice'), count('thanks'), count('reminder')]).toEqual([
    ORDERS,
    ORDERS,
    ORDERS / 2,
    ORDERS / 2,
  ])
  // Lost: not arrived, and nobody was told.
  expect(rows.filter((row) => mailsOf(row) === 0 && !row['unsure'])).toEqual([])
  // Doubled: arrived more than once, but for transactional ones that were sent again knowingly.
  expect(rows.filter((row) => mailsOf(row) > 1 && (row['marketing'] || !row['unsure']))).toEqual([])
  const twice = await world.db.execute(`select 1 from ledger
    where kind in ('sends', 'entered', 'came') group by run_id, kind, entry->>'step' having count(*) > 1`)
  expect(twice.rows).toEqual([])
  // Nine o'clock in Lisbon is nine UTC once clocks have gone back.
  const adviceAt = new Set(
    rows.filter(({ step }) => step === 'advice').map((row) => Number(row['decided_at'])),
  )
  expect([...adviceAt]).toEqual([at('2026-10-25T09:00:00Z')])
}, 1_800_000)
