import { spawn, type ChildProcess } from 'node:child_process'
import { setTimeout as pause } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, expect, test, vi } from 'vitest'
import { startPostgres, type OwnPostgres } from '../../scripts/lib/postgres.mjs'
import { createApiKey } from '../backend/accounts/index.ts'
import { cellOf, HOME, moveShop, openCells, placeShop } from '../backend/cells/index.ts'
import type { Config } from '../backend/platform/config.ts'
import type { Database } from '../backend/platform/db.ts'
import { migrateJobs } from '../backend/platform/jobs.ts'
import { makeLog } from '../backend/platform/log.ts'
import { migrateDatabase } from '../backend/platform/migrate.ts'
import { MIGRATIONS } from '../backend/platform/migrationsFolder.ts'
import { createWorkflow, goLive } from '../backend/workflows/index.ts'
import { aDefinition, anEmail, orderEvent, START, wait } from '../testing/builders.ts'
import { freePort } from '../testing/freePort.ts'
import { startMailServer, type MailServer } from '../testing/mailServer.ts'
import { addPeople, PASSWORD, testConfig } from '../testing/people.ts'
import { addShop, LINK_SECRET } from '../testing/world.ts'
import { startServer } from './run.ts'

const TWO = 'two'
let clusters: OwnPostgres[] = []
let config: Config
let cells: Map<string, Database>
let home: Database
let two: Database
let stopServer: () => Promise<void>
let worker: ChildProcess
let mailServer: MailServer
const keys: Record<string, string> = {}
let origin = ''

beforeAll(async () => {
  clusters = [await startPostgres('cell-one', { fresh: true }), await startPostgres('cell-two', { fresh: true })] // prettier-ignore
  const [one, other] = clusters.map((cluster) => cluster.urlOf('postgres'))
  const port = await freePort()
  mailServer = await startMailServer()
  origin = `http://localhost:${port}`
  config = testConfig({ DATABASE_URL: one ?? '', CELLS: { [TWO]: other ?? '' }, PORT: port, SMTP_URL: mailServer.url }) // prettier-ignore
  cells = openCells(config)
  home = cells.get(HOME) as Database
  two = cells.get(TWO) as Database
  for (const db of cells.values()) {
    await migrateDatabase(db, MIGRATIONS)
    await migrateJobs(db)
  }
  for (const [shopId, db] of [['mover', home], ['stays', home], ['elsewhere', two]] as const) {
    if (db === two) await placeShop(home, shopId, TWO)
    await addShop(db, shopId)
    for (const steps of [[anEmail('m', { purpose: 'marketing' })], [wait('w', 'P9D'), anEmail('later')]]) {
      const id = await createWorkflow(db, shopId, aDefinition({ steps }))
      await goLive(db, shopId, id, 0, 'tests')
    }
    keys[shopId] = (await createApiKey(db, shopId, 'tests')).key
  } // prettier-ignore
  await addPeople(home, 'mover')
  stopServer = await startServer(config, makeLog('silent'))
  worker = run('src/worker/main.ts')
})
afterAll(async () => {
  worker.kill('SIGKILL')
  await stopServer()
  for (const db of cells.values()) await db.$client.end()
  await mailServer.stop()
  for (const cluster of clusters) await cluster.stop()
})

/** A process of Yomble's own that works on both cells. */
function run(main: string, ...args: string[]): ChildProcess {
  const { DATABASE_URL, SMTP_URL, CELLS } = config
  return spawn(process.execPath, ['--import', 'tsx', main, ...args], {
    env: { ...process.env, DATABASE_URL, SMTP_URL, CELLS: `${TWO}=${CELLS[TWO]}`, LINK_SECRET, LOG_LEVEL: 'silent' }, // prettier-ignore
    stdio: 'ignore',
  })
}

const order = (id: string) =>
  orderEvent('order.placed', START, { id, number: id, customerId: `c${id}` }, { id: `c${id}`, email: `${id}@example.org` }) // prettier-ignore

const post = (shopId: string, event: object) =>
  fetch(`${origin}/v1/events`, { method: 'POST', headers: { authorization: `Bearer ${keys[shopId]}`, 'content-type': 'application/json' }, body: JSON.stringify(event) }) // prettier-ignore

/** Sends orders to a shop, one after the other, until told to stop; each again until it is taken. */
function keepSending(shopId: string, name: string) {
  const taken: string[] = []
  const refusals = new Set<number>()
  const sends = { goesOn: true }
  const sending = (async () => {
    for (let index = 0; sends.goesOn; index += 1) {
      const id = `${name}${index}`
      for (;;) {
        const { status } = await post(shopId, order(id))
        if (status === 200) break
        refusals.add(status)
        await pause(30)
      }
      taken.push(id)
      await pause(10)
    }
  })()
  const more = async (count: number) => {
    const before = taken.length
    await vi.waitFor(() => expect(taken.length).toBeGreaterThan(before + count), { timeout: 60_000, interval: 20 }) // prettier-ignore
  }
  return { taken, refusals, more, stop: async () => ((sends.goesOn = false), sending) }
}

const idsOf = async (db: Database, query: string): Promise<string[]> =>
  (await db.execute<{ id: string }>(sql.raw(query))).rows.map(({ id }) => id).toSorted()

/** All that was taken of a shop is in this cell, and each of its orders has had its mail, once. */
async function expectAllThere(db: Database, shopId: string, taken: readonly string[]): Promise<void> {
  expect(await idsOf(db, `select subject_id as id from events where shop_id = '${shopId}' and type = 'order.placed'`)).toEqual(taken.toSorted()) // prettier-ignore
  await vi.waitFor(
    async () => {
      const runs = await idsOf(db, `select 'r' || id as id from runs where shop_id = '${shopId}'`)
      expect(runs).toHaveLength(2 * taken.length)
      expect(await idsOf(db, `select message_id as id from messages where shop_id = '${shopId}' and status <> 'sent'`)).toEqual([]) // prettier-ignore
    },
    { timeout: 60_000, interval: 100 },
  )
  const sent = await idsOf(db, `select message_id as id from messages where shop_id = '${shopId}'`)
  expect(sent).toHaveLength(taken.length)
  expect(sent.filter((id) => mailServer.mails.get(id)?.length !== 1)).toEqual([])
} // prettier-ignore

async function signIn(cookie = ''): Promise<Response> {
  return fetch(`${origin}/api/session`, { method: 'POST', headers: { origin, cookie, 'content-type': 'application/json' }, body: JSON.stringify({ email: 'maren@combwright.example', password: PASSWORD }) }) // prettier-ignore
}

const cookieOf = ({ headers }: Response): string =>
  (headers.get('set-cookie') ?? '').split(';')[0] ?? ''

/** Of a session that was opened before the move. */
let formerCookie = ''

const taken: string[] = []

test('a shop is moved to another cell with events coming in: nothing is lost, nothing is sent twice, others notice nothing', async () => {
  const [mover, stays] = [keepSending('mover', 'a'), keepSending('stays', 's')]
  await vi.waitFor(() => expect(mailServer.mails.size).toBeGreaterThan(20), {
    timeout: 60_000,
    interval: 20,
  })
  const before = await signIn()
  expect(before.status).toBe(204)
  formerCookie = cookieOf(before)
  await moveShop(cells, home, 'mover', TWO)
  expect(await cellOf(home, 'mover')).toBe(TWO)
  await mover.more(20)
  await stays.more(1)
  await Promise.all([mover.stop(), stays.stop()])
  taken.push(...mover.taken)
  expect([...mover.refusals].filter((status) => status !== 503)).toEqual([])
  expect(stays.refusals.size).toBe(0)
  await expectAllThere(two, 'mover', taken)
  await expectAllThere(home, 'stays', stays.taken)
  // Nothing of it is left where it was, its people neither.
  expect(await idsOf(home, `select id from shops`)).toEqual(['stays'])
  for (const table of ['events', 'runs', 'ledger', 'messages', 'customers', 'api_keys', 'users']) {
    expect((await home.execute(sql.raw(`select 1 from ${table} where shop_id = 'mover'`))).rows).toEqual([]) // prettier-ignore
  }
  expect((await home.execute(sql`select 1 from accounts`)).rows).toEqual([])
})

test('its people sign in anew and find their shop; links in mails from before lead on; keys and addresses of nobody are refused', async () => {
  const signedIn = await signIn(formerCookie)
  expect(signedIn.status).toBe(204)
  const cookie = cookieOf(signedIn)
  expect((await fetch(`${origin}/api/session`, { headers: { cookie: formerCookie } })).status).toBe(
    401,
  )
  const session = await fetch(`${origin}/api/session`, { headers: { cookie } })
  expect(await session.json()).toMatchObject({ shop: { id: 'mover' } })
  const [first] = [...mailServer.mails].filter(([id]) => id.startsWith('<mover.'))[0]?.[1] ?? []
  const way = /https?:\/\/[^\s"<>]*\/u\/[\w-]+/.exec((first ?? '').replaceAll('=\r\n', '').replaceAll('=3D', '='))?.[0] ?? '' // prettier-ignore
  const page = await fetch(`${origin}${new URL(way).pathname}`)
  expect(page.status).toBe(200)
  expect((await fetch(`${origin}/u/${'x'.repeat(32)}`)).status).toBe(404)
  keys['nobody'] = `${keys['mover']}x`
  expect((await post('nobody', order('n1'))).status).toBe(401)
  expect((await post('elsewhere', order('e1'))).status).toBe(200)
})

test('a move that is broken off leaves the shop where it was, at work', async () => {
  await home.execute(
    sql`create function refuse_all() returns trigger language plpgsql as $$ begin raise 'no room'; end $$`,
  )
  await home.execute(sql`create trigger refuse_all before insert on ledger for each row when (new.shop_id = 'mover') execute function refuse_all()`) // prettier-ignore
  await expect(moveShop(cells, home, 'mover', HOME)).rejects.toThrow('no room')
  await home.execute(sql`drop function refuse_all cascade`)
  expect(await cellOf(home, 'mover')).toBe(TWO)
  expect((await post('mover', order('b1'))).status).toBe(200)
  taken.push('b1')
  await expectAllThere(two, 'mover', taken)
})

test('a move that is killed is taken up by moving again, wherever it was', async () => {
  const mover = keepSending('mover', 'k')
  const isBegun = async (db: Database) => (await db.execute(sql`select 1 from shops where id = 'mover' and moving_since is not null`)).rows.length > 0 // prettier-ignore
  // There and back, killed a little later each time.
  for (const [index, to] of [HOME, HOME, HOME, TWO, TWO].entries()) {
    const from = cells.get(await cellOf(home, 'mover')) as Database
    const move = run('src/cli/main.ts', 'cell', 'move', 'mover', to)
    const ended = new Promise((resolve) => move.once('exit', resolve))
    await vi.waitFor(async () => expect(move.exitCode !== null || (await isBegun(from))).toBe(true), { timeout: 30_000, interval: 5 }) // prettier-ignore
    await pause(index * 60)
    move.kill('SIGKILL')
    await ended
  }
  await moveShop(cells, home, 'mover', HOME)
  await mover.more(10)
  await mover.stop()
  expect([...mover.refusals].filter((status) => status !== 503)).toEqual([])
  taken.push(...mover.taken)
  await expectAllThere(home, 'mover', taken)
  expect((await two.execute(sql`select 1 from events where shop_id = 'mover'`)).rows).toEqual([])
})
