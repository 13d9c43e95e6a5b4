import { sql } from 'drizzle-orm'
import { openDatabase, type Database } from '../../src/backend/platform/db.ts'
import { ingestEvents } from '../../src/backend/shop/index.ts'
import { createWorkflow, goLive } from '../../src/backend/workflows/index.ts'
import { HOUR_MS } from '../../src/core/shared/duration.ts'
import { aDefinition, anEmail, happened, on, orderEvent, wait } from '../../src/testing/builders.ts' // prettier-ignore
import { dropDatabase, makeDatabase } from '../../src/testing/database.ts'
import { addShop } from '../../src/testing/world.ts'
import { chunks } from '../measure.ts'

export const SHOPS = 2000
/** So many of them have customers who order. */
const QUIET = 100
export const STORM = 'storm'

/** It says nothing about an order: those of the storm have none. */
const MAIL = anEmail('m', { subject: 'Hello', body: 'Hello' })

export interface Shops {
  db: Database
  url: string
  /** A shop that goes about its day; its customers get a mail with each order. */
  quiet: (index: number) => string
  /** So many people of the shop `storm` become due at once, each with a condition to be asked and a mail to be sent. */
  raiseStorm: (people: number) => Promise<void>
  /** So many orders come to the shop `storm` at once. */
  stormOfOrders: (orders: number) => Promise<void>
  close: () => Promise<void>
}

/** A database with many shops, each with a workflow that is live. */
export async function makeShops(): Promise<Shops> {
  const url = await makeDatabase()
  const db = openDatabase(url)
  await addShop(db, STORM)
  const due = await publish(db, STORM, [wait('w', 'P1D'), MAIL], {
    exclusions: [{ key: 'refund', when: happened('order.refunded'), effect: 'leave' }],
    trigger: on('order.completed'),
  })
  await publish(db, STORM, [wait('w', 'P1D'), MAIL])
  await db.execute('update shops set clock_now = null')
  for (const batch of chunks(
    Array.from({ length: SHOPS }, (_, index) => index),
    50,
  )) {
    await Promise.all(
      batch.map(async (index) => {
        await addShop(db, `quiet${index}`)
        if (index < QUIET) await publish(db, `quiet${index}`, [MAIL])
        else await publish(db, `quiet${index}`, [wait('w', 'P30D'), MAIL])
      }),
    )
  }
  await db.execute('update shops set clock_now = null')
  // When things are bought again is reckoned once a day, and not today.
  await db.execute(sql`insert into reorder_reckonings (shop_id, next_at) select id, ${Date.now() + 48 * HOUR_MS} from shops on conflict (shop_id) do update set next_at = excluded.next_at`) // prettier-ignore
  await db.execute('vacuum analyze')
  let stormsSoFar = 0
  return {
    db,
    url,
    quiet: (index) => `quiet${index % QUIET}`,
    raiseStorm: async (people) => {
      stormsSoFar += 1
      await raise(db, due, people, stormsSoFar)
    },
    stormOfOrders: async (orders) => {
      const events = Array.from({ length: orders }, (_, index) => orderEvent('order.placed', Date.now() - HOUR_MS + index, { id: `s${index}`, customerId: `c${index % 4000}` }, { email: `c${index % 4000}@storm.example` })) // prettier-ignore
      for (const batch of chunks(events, 1000)) await ingestEvents(db, STORM, batch)
    },
    close: async () => {
      await db.$client.end()
      await dropDatabase(url)
    },
  }
}

async function publish(db: Database, shopId: string, steps: ReturnType<typeof aDefinition>['steps'], over: Parameters<typeof aDefinition>[0] = {}): Promise<string> {
  const id = await createWorkflow(db, shopId, aDefinition({ ...over, steps }))
  await goLive(db, shopId, id, 0, 'bench')
  return id
} // prettier-ignore

async function raise(db: Database, workflowId: string, people: number, storm: number): Promise<void> {
  const id = sql.raw(`'due${storm}-' || n`)
  const now = Date.now()
  await db.execute(sql`
    insert into customers (shop_id, id, email, as_of)
    select ${STORM}, ${id}, ${id} || '@storm.example', ${now} from generate_series(1, ${people}::int) as n`)
  await db.execute(sql`
    insert into runs (shop_id, workflow_id, version, customer_id, subject_id, idempotency_key, entered_at, status, step, since, due_at, parked_until)
    select ${STORM}, ${workflowId}, 1, ${id}, ${id}, 'bench:' || ${id}, ${now - 24 * HOUR_MS}, 'inProgress', 'w', ${now - 24 * HOUR_MS}, ${now}, ${now}
    from generate_series(1, ${people}::int) as n`)
  // As PostgreSQL does by itself within a minute.
  await db.execute('analyze customers, runs')
} // prettier-ignore
