import { setImmediate } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import type { Database } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { findShop, readClock } from '../shop/index.ts'
import { rowsOfFile } from './rows.ts'
import { endImport, findImport, keepRefused, noteProgress, type Import } from './store.ts'
import { takeThings } from './takeThings.ts'
import type { ImportCounts } from './tables.ts'
import { thingsIn, type Reading, type Thing } from './things.ts'

/** So many things are taken in by one transaction. */
const BATCH = 2000

async function readingOf(db: Database, shopId: string, found: Import): Promise<Reading> {
  const { zone, currency } = await findShop(db, shopId)
  const { now } = await readClock(db, shopId)
  const { kind, mapping, format } = found
  return { kind, mapping, format: { ...format, zone }, currency, now }
}

/**
 * Brings a file in, a transaction for each few thousand things with how far it has come. Run again after a crash it goes on where
 * it had got to. What cannot be read ends it, and is said.
 */
export async function runImport(db: Database, shopId: string, importId: string): Promise<void> {
  const found = await findImport(db, shopId, importId)
  if (found.state !== 'running') return
  const reading = await readingOf(db, shopId, found)
  await db.execute(sql`
    update imports set first_seq = (select coalesce(max(seq), 0) from events where shop_id = ${shopId})
    where shop_id = ${shopId} and id = ${importId} and first_seq is null`)
  const batches = batched(thingsIn(rowsOfFile(db, shopId, importId), reading), found.counts.rows)
  try {
    await takeAll(db, shopId, importId, { batches, counts: found.counts })
    await endImport(db, shopId, importId, { state: 'done' })
  } catch (error) {
    if (!(error instanceof AppError)) throw error
    await endImport(db, shopId, importId, { state: 'failed', error: error.message })
  }
}

/** After so many things what the database has answered gets its turn: it is given the next statement at once. */
const AT_A_TIME = 25

/** Things in batches, without those whose rows were gone through before. */
async function* batched(things: AsyncIterable<Thing>, done: number): AsyncGenerator<Thing[]> {
  let batch: Thing[] = []
  for await (const thing of things) {
    if ((thing.rows.at(-1)?.place ?? 0) <= done) continue
    batch.push(thing)
    if (batch.length % AT_A_TIME === 0) await setImmediate()
    if (batch.length < BATCH) continue
    yield batch
    batch = []
  }
  if (batch.length > 0) yield batch
}

/**
 * Takes batch after batch. While the database is at work on one, the next is read, and its events are stored already; what they tell
 * of is written when the one before is committed, so that the file is gone through in its order, and how far it has come is true.
 */
async function takeAll(
  db: Database,
  shopId: string,
  importId: string,
  { batches, counts }: { batches: AsyncGenerator<Thing[]>; counts: ImportCounts },
): Promise<void> {
  let before = Promise.resolve(counts)
  for (;;) {
    // What can be read is taken in before it is said what cannot.
    const read = await batches.next().catch(async (error: unknown) => {
      await before
      throw error
    })
    if (read.done === true) break
    const own = takeBatch(db, shopId, importId, { batch: read.value, before })
    own.catch(() => undefined)
    try {
      await before
    } catch (error) {
      // It rolls back by itself, since it waits for what has failed.
      await own.catch(() => undefined)
      throw error
    }
    before = own
  }
  await before
}

function takeBatch(
  db: Database,
  shopId: string,
  importId: string,
  { batch, before }: { batch: readonly Thing[]; before: Promise<ImportCounts> },
): Promise<ImportCounts> {
  return db.transaction(async (tx) => {
    const { taken, known, refused } = await takeThings(tx, shopId, importId, batch, () => before)
    const counts = await before
    await keepRefused(tx, shopId, importId, refused)
    const last = batch.reduce((most, { rows }) => Math.max(most, rows.at(-1)?.place ?? 0), counts.rows)
    const next = {
      rows: last,
      taken: counts.taken + taken,
      known: counts.known + known,
      refused: counts.refused + refused.length,
    }
    await noteProgress(tx, shopId, importId, next)
    await tx.execute(sql`
      update imports set last_seq = (select coalesce(max(seq), 0) from events where shop_id = ${shopId})
      where shop_id = ${shopId} and id = ${importId}`)
    return next
  })
} // prettier-ignore

/** What bringing a file in would come to. */
export interface DryRun {
  counts: ImportCounts
  /** The first rows that would be refused. */
  refused: { place: number; cells: readonly string[]; problems: { at: string | null; message: string }[] }[]
  /** It was not gone through to its end, for it is long. */
  isPart: boolean
} // prettier-ignore

/** So many things are tried; of a longer file that is enough to know. */
const MOST_TRIED = 5000

class RolledBack extends Error {}

/** Tries how it would be to bring a file in. Nothing of it stays. */
export async function tryImport(db: Database, shopId: string, importId: string): Promise<DryRun> {
  const found = await findImport(db, shopId, importId)
  const reading = await readingOf(db, shopId, found)
  const things: Thing[] = []
  let isPart = false
  for await (const thing of thingsIn(rowsOfFile(db, shopId, importId), reading)) {
    if (things.length >= MOST_TRIED) {
      isPart = true
      break
    }
    things.push(thing)
  }
  let result: DryRun | null = null
  try {
    await db.transaction(async (tx) => {
      const { taken, known, refused } = await takeThings(tx, shopId, importId, things)
      const rows = things.reduce((sum, thing) => sum + thing.rows.length, 0)
      const first = refused.slice(0, 50).map(({ row, problems }) => ({ ...row, problems }))
      result = { counts: { rows, taken, known, refused: refused.length }, refused: first, isPart }
      throw new RolledBack()
    })
  } catch (error) {
    if (!(error instanceof RolledBack)) throw error
  }
  if (!result) throw new RangeError('The transaction was not tried')
  return result
}
