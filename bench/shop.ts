import { openDatabase, type Database } from '../src/backend/platform/db.ts'
import { ingestEvents, setClock } from '../src/backend/shop/index.ts'
import { createWorkflow, goLive } from '../src/backend/workflows/index.ts'
import { DAY_MS, HOUR_MS } from '../src/core/shared/duration.ts'
import { Programs } from '../src/drivers/live/programs.ts'
import { startRuns } from '../src/drivers/live/startRuns.ts'
import {
  aDefinition,
  anEmail,
  happened,
  orderEvent,
  ordersEver,
  START,
  wait,
} from '../src/testing/builders.ts'
import { dropDatabase, makeDatabase } from '../src/testing/database.ts'
import { addShop, SHOP } from '../src/testing/world.ts'
import { chunks } from './measure.ts'

/** How many orders come in, and how many runs of theirs fall due. */
export const ORDERS = 10_000
const CUSTOMERS = 4_000

/** Orders of the shop's customers, one each millisecond. */
export const events = Array.from({ length: ORDERS }, (_, index) =>
  orderEvent(
    'order.placed',
    START - HOUR_MS + index,
    { id: `o${index}`, number: String(index), customerId: `c${index % CUSTOMERS}` },
    { email: `c${index % CUSTOMERS}@example.org` },
  ),
)

/** Runs the work on a database of its own with an empty shop. */
export async function withShop(work: (db: Database, url: string) => Promise<void>): Promise<void> {
  const url = await makeDatabase()
  const db = openDatabase(url)
  await addShop(db)
  await work(db, url)
  await db.$client.end()
  await dropDatabase(url)
}

/** Runs that wait a day, then meet an exclusion, a split and a message. Returns their workflow. */
export async function parkRuns(db: Database): Promise<string> {
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
  for (const batch of chunks(events, 1000)) await ingestEvents(db, SHOP, batch)
  const { rows } = await db.execute('select seq from events order by seq')
  const seqs = rows.map((row) => Number(row['seq']))
  const programs = new Programs()
  for (const batch of chunks(seqs, 1000)) await startRuns(db, programs, SHOP, batch)
  return id
}

/** Lets the parked runs fall due. */
export async function makeDue(db: Database): Promise<void> {
  await db.execute('vacuum analyze')
  await setClock(db, SHOP, START + 2 * DAY_MS)
}
