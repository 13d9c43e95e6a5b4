import { sql } from 'drizzle-orm'
import { openDatabase, recordsOf, type Database } from '../src/backend/platform/db.ts'
import { createApiKey } from '../src/backend/accounts/index.ts'
import { makeLog } from '../src/backend/platform/log.ts'
import { ingestEvents, setClock } from '../src/backend/shop/index.ts'
import { createWorkflow, goLive } from '../src/backend/workflows/index.ts'
import { DAY_MS, HOUR_MS } from '../src/core/shared/duration.ts'
import { Programs } from '../src/drivers/live/programs.ts'
import { runDue } from '../src/drivers/live/runDue.ts'
import { startRuns } from '../src/drivers/live/startRuns.ts'
import { buildApp } from '../src/server/app.ts'
import {
  aDefinition,
  anEmail,
  happened,
  orderEvent,
  ordersEver,
  START,
  wait,
} from '../src/testing/builders.ts'
import { dropDatabase, makeDatabase, makeTemplate } from '../src/testing/database.ts'
import { testConfig } from '../src/testing/people.ts'
import { addShop, SHOP } from '../src/testing/world.ts'

const EVENTS = 10_000
const BATCH = 100
const DUE = 10_000

/** Times a piece of work and returns how many things a second it did. */
async function perSecond(count: number, work: () => Promise<void>): Promise<number> {
  const start = performance.now()
  await work()
  return count / ((performance.now() - start) / 1000)
}

const round = (value: number): string => Math.round(value).toLocaleString('en')

function report(name: string, ours: number, raw: number): void {
  const ratio = (ours / raw).toFixed(2)
  console.log(
    `${name.padEnd(46)} ${round(ours).padStart(9)} /s   raw PostgreSQL ${round(raw).padStart(9)} /s   ratio ${ratio}`,
  )
}

const events = Array.from({ length: EVENTS }, (_, index) =>
  orderEvent(
    'order.placed',
    START - HOUR_MS + index,
    { id: `o${index}`, number: String(index), customerId: `c${index % 4000}` },
    { email: `c${index % 4000}@example.org` },
  ),
)

function* chunks<Item>(items: readonly Item[], size: number): Generator<Item[]> {
  for (let from = 0; from < items.length; from += size) yield items.slice(from, from + size)
}

async function withShop(work: (db: Database, url: string) => Promise<void>): Promise<void> {
  const url = await makeDatabase()
  const db = openDatabase(url)
  await addShop(db)
  await work(db, url)
  await db.$client.end()
  await dropDatabase(url)
}

/** Events over HTTP in batches, beside inserting the same rows into the same table and no more. */
async function measureIngest(): Promise<void> {
  let ours = 0
  await withShop(async (db, url) => {
    const { key } = await createApiKey(db, SHOP, 'bench')
    const config = testConfig({ DATABASE_URL: url })
    const app = await buildApp({
      db,
      config,
      publicUrl: 'http://127.0.0.1',
      log: makeLog('silent'),
    })
    const address = await app.listen({ host: '127.0.0.1', port: 0 })
    const headers = {
      authorization: `Bearer ${key}`,
      'content-type': 'application/cloudevents-batch+json',
    }
    ours = await perSecond(EVENTS, async () => {
      for (const batch of chunks(events, BATCH)) {
        const response = await fetch(`${address}/v1/events`, {
          method: 'POST',
          headers,
          body: JSON.stringify(batch),
        })
        if (response.status !== 200) throw new Error(`The batch was answered ${response.status}`)
        await response.arrayBuffer()
      }
    })
    await app.close()
  })
  await withShop(async (db) => {
    const raw = await perSecond(EVENTS, async () => {
      for (const batch of chunks(events, BATCH)) {
        const rows = batch.map(({ id, source, type, data }) => ({
          id,
          source,
          type,
          data,
          customerId: data.order.customerId,
          orderId: data.order.id,
        }))
        await db.execute(sql`insert into events (shop_id, source, event_id, type, time, received_at, customer_id, order_id, data)
          select ${SHOP}, source, id, type, ${START}, ${START}, "customerId", "orderId", data
          from jsonb_to_recordset(${recordsOf(rows)}) as e(source text, id text, type text, "customerId" text, "orderId" text, data jsonb)`)
      }
    })
    report('events in over HTTP, batches of 100', ours, raw)
  })
}

/** Runs that wait an hour, then meet an exclusion check, a split and a message. */
async function parkRuns(db: Database): Promise<void> {
  const definition = aDefinition({
    exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
    steps: [
      wait('w', 'P1D'),
      {
        key: 's',
        kind: 'split',
        branches: [{ key: 'first', name: 'First', when: ordersEver(1), steps: [anEmail('one')] }],
        otherwise: [anEmail('other')],
      },
      wait('w2', 'P7D'),
      anEmail('last'),
    ],
  })
  const id = await createWorkflow(db, SHOP, definition)
  await goLive(db, SHOP, id, 0, 'bench')
  const programs = new Programs()
  for (const batch of chunks(events, 1000)) {
    await ingestEvents(db, SHOP, batch)
  }
  const { rows } = await db.execute('select seq from events order by seq')
  for (const batch of chunks(
    rows.map((row) => Number(row['seq'])),
    1000,
  ))
    await startRuns(db, programs, SHOP, batch)
  await db.execute('analyze')
  await setClock(db, SHOP, START + 2 * DAY_MS)
}

/** Due runs resumed, beside claiming and updating the same rows and inserting their ledger alone. */
async function measureResume(): Promise<void> {
  let ours = 0
  await withShop(async (db) => {
    await parkRuns(db)
    const programs = new Programs()
    ours = await perSecond(DUE, async () => {
      while ((await runDue(db, programs, SHOP)) > 0);
    })
    const { rows } = await db.execute(
      "select count(*) as count from messages where status = 'queued'",
    )
    if (Number(rows[0]?.['count']) !== DUE)
      throw new Error(`Only ${Number(rows[0]?.['count'])} messages were decided`)
  })
  await withShop(async (db) => {
    await parkRuns(db)
    const raw = await perSecond(DUE, async () => {
      while ((await claimAndUpdate(db)) > 0);
    })
    report('due runs through exclusion, split and send', ours, raw)
  })
}

/** What PostgreSQL itself needs for the rows of one batch: claim, update, three ledger rows each. */
async function claimAndUpdate(db: Database): Promise<number> {
  return db.transaction(async (tx) => {
    const { rows } = await tx.execute(sql`with claimed as (
        select shop_id, id, workflow_id, version, customer_id, order_id from runs
        where shop_id = ${SHOP} and due_at <= ${START + 2 * DAY_MS}
        order by due_at, id limit 500 for update skip locked),
      moved as (update runs set due_at = ${START + 9 * DAY_MS}, step = 'w2' from claimed
        where runs.shop_id = claimed.shop_id and runs.id = claimed.id returning runs.id),
      written as (insert into ledger (shop_id, at, workflow_id, version, run_id, customer_id, order_id, kind, entry)
        select ${SHOP}, ${START}, workflow_id, version, id, customer_id, order_id, kind, '{"kind":"waits","step":"w2","until":1}'::jsonb
        from claimed cross join (values ('tookBranch'), ('sends'), ('waits')) as kinds(kind) returning 1)
      select count(*) as count from moved`)
    return Number(rows[0]?.['count'])
  })
}

await makeTemplate()
console.log(
  `Node.js ${process.version}; ${EVENTS} events, ${DUE} due runs; PostgreSQL on this machine\n`,
)
await measureIngest()
await measureResume()
