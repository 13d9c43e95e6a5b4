import { and, eq, sql } from 'drizzle-orm'
import { HOUR_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { keptFigures } from './tables.ts'
import { z } from 'zod'

/*
 * What is summed over a whole shop takes longer the larger it is. Up to a stated size it is counted whenever somebody asks. Of a
 * larger shop it is kept, with the moment it is of: who asks has it at once, and it is counted anew behind that once it is old.
 */

/** From so many people on a shop’s figures are kept. */
export const KEPT_FROM_PEOPLE = 20_000
/** They are good for so many times as long as it took to count them, but for a minute at least. */
const GOOD_TIMES = 20
const GOOD_MS = MINUTE_MS
/** Older than that they are shown to nobody: better to wait. */
const TOO_OLD_MS = 24 * HOUR_MS

/** Figures, and the moment of the shop’s clock that they are of. */
export interface Figures<Data> {
  data: Data
  asOf: Instant
  /** They are to be counted anew. */
  isOld: boolean
}

/** Whether a shop is so large that its figures are kept. */
export async function keepsFigures(db: Db, shopId: string): Promise<boolean> {
  const rows = await rowsOf(db, z.object({ n: z.number() }), sql`
    select count(*)::int as n from (select from customers where shop_id = ${shopId} limit ${KEPT_FROM_PEOPLE}) as few`) // prettier-ignore
  return (rows[0]?.n ?? 0) >= KEPT_FROM_PEOPLE
}

/** What is kept of some figures; null where there is nothing that could be shown. */
export async function findFigures<Data>(
  db: Db,
  shopId: string,
  key: string,
  now: Instant,
): Promise<Figures<Data> | null> {
  const [row] = await db
    .select()
    .from(keptFigures)
    .where(and(eq(keptFigures.shopId, shopId), eq(keptFigures.key, key)))
  if (!row) return null
  const age = now - row.asOf
  // A clock that was moved back makes them the future’s.
  if (age < 0 || age > TOO_OLD_MS) return null
  const isOld = age > Math.max(GOOD_MS, GOOD_TIMES * row.tookMs)
  return { data: row.figures as Data, asOf: row.asOf, isOld }
}

/** Keeps figures that were just counted, unless somebody was erased meanwhile: they may name them. */
export async function keepFigures(
  db: Db,
  shopId: string,
  key: string,
  { data, asOf, tookMs }: { data: unknown; asOf: Instant; tookMs: number },
): Promise<void> {
  const erased = await rowsOf(db, z.object({ at: z.number() }), sql`
    select erased_at as at from erasures where shop_id = ${shopId} and erased_at >= ${asOf} limit 1`) // prettier-ignore
  if (erased.length > 0) return
  const row = { asOf, tookMs: Math.round(tookMs), figures: data }
  await db
    .insert(keptFigures)
    .values({ shopId, key, ...row })
    .onConflictDoUpdate({ target: [keptFigures.shopId, keptFigures.key], set: row })
}
