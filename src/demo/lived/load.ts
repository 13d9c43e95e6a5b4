import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Database } from '../../backend/platform/db.ts'
import { findShop } from '../../backend/shop/index.ts'
import { liveWorkflows } from '../../drivers/live/liveWorkflows.ts'
import { Programs } from '../../drivers/live/programs.ts'
import { numberRows, type RowTimes } from './numbers.ts'
import { LivedPart, NUMBERED, type Numbered, type PartGiven, type PlacedLife } from './part.ts'

/** What a part is told beside its people; shop and workflows it reads for itself. */
export type PartOrder = Omit<PartGiven, 'shop' | 'workflows'>

/** Some people's half year, wherever it is lived through. */
export interface Part {
  times: Record<Numbered, RowTimes>
  /** Writes it down under these numbers, and is done. */
  write: (numbers: Record<Numbered, Int32Array>) => Promise<void>
}
/** Lives through the half year of some people. */
export type LivePart = (order: PartOrder, lives: readonly PlacedLife[]) => Promise<Part>

/** As many as there are processors to be had, as a rule: the database needs its share. */
const PARTS = 2

/**
 * Lives through the demo's half year in parts, and writes it all down as if the shop had told and the workers had
 * worked. The clock must stand at its end, and the shop must have nothing of that time yet. The same, however
 * people are parted. Returns how many rows there are of each kind.
 */
export async function loadLived(
  db: Database,
  livePart: LivePart,
  order: PartOrder,
  lives: readonly PlacedLife[],
  say: (counts: Record<Numbered, number>) => void,
): Promise<void> {
  const parts = await Promise.all(
    Array.from(
      { length: PARTS },
      (_, part) =>
      livePart(order, lives.filter(({ place }) => place % PARTS === part)), // prettier-ignore
    ),
  )
  say(record((table) => parts.reduce((sum, { times }) => sum + times[table].at.length, 0)))
  const numbers = {} as Record<Numbered, Int32Array[]>
  for (const table of NUMBERED) {
    numbers[table] = numberRows(parts.map(({ times }) => times[table]), await nextNumber(db, table)) // prettier-ignore
  }
  await Promise.all(
    parts.map(({ write }, part) => write(record((table) => numbers[table][part] ?? new Int32Array()))), // prettier-ignore
  )
  await goOnCounting(db)
}

const record = <Kind>(make: (table: Numbered) => Kind): Record<Numbered, Kind> =>
  Object.fromEntries(NUMBERED.map((table) => [table, make(table)])) as Record<Numbered, Kind>

/** Lives through a part in the thread that asks. */
export const liveHere =
  (db: Database): LivePart =>
  async (order, lives) => {
    const part = await startPart(db, order, lives)
    return { times: part.times(), write: (numbers) => part.write(db, numbers) }
  }

/** Lives through a part, with the shop and its workflows as the database has them. */
export async function startPart(
  db: Database,
  order: PartOrder,
  lives: readonly PlacedLife[],
): Promise<LivedPart> {
  const shop = await findShop(db, order.shopId)
  const workflows = await liveWorkflows(db, new Programs(), order.shopId, () => true)
  return new LivedPart({ ...order, shop, workflows }, lives)
}

const COLUMN: Readonly<Record<Numbered, string>> = { events: 'seq', runs: 'id', ledger: 'id', messages: 'id' } // prettier-ignore

async function nextNumber(db: Database, table: Numbered): Promise<number> {
  const column = sql.identifier(COLUMN[table])
  const [row] = await rowsOf(
    db,
    z.object({ next: z.number() }),
    sql`select coalesce(max(${column}), 0) + 1 as next from ${sql.identifier(table)}`,
  )
  return row?.next ?? 1
}

/** What comes after is numbered on from here. */
async function goOnCounting(db: Database): Promise<void> {
  for (const table of NUMBERED) {
    const column = COLUMN[table]
    await db.execute(
      sql`select setval(pg_get_serial_sequence(${table}, ${column}), (select coalesce(max(${sql.identifier(column)}), 1) from ${sql.identifier(table)}))`,
    )
  }
}
