import { sql } from 'drizzle-orm'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { Database, Db } from '../platform/db.ts'

/** A file that nobody began to bring in is kept so long. */
const UNBEGUN_MS = 7 * DAY_MS

/**
 * Removes what no import needs any more: the file and what stood before a day after its end, for it cannot be undone then; and
 * files that nobody began with for a week.
 */
export async function tidyImports(db: Database, shopId: string, now: Instant): Promise<void> {
  const isOver = sql`i.shop_id = ${shopId} and i.ended_at < ${now - DAY_MS}`
  const isUnbegun = sql`i.shop_id = ${shopId} and i.state = 'uploaded' and i.created_at < ${now - UNBEGUN_MS}`
  await db.transaction(async (tx) => {
    for (const table of ['import_pieces', 'import_before'] as const) {
      await tx.execute(sql`delete from ${sql.raw(table)} p using imports i
        where p.shop_id = i.shop_id and p.import_id = i.id and ((${isOver}) or (${isUnbegun}))`)
    }
    await tx.execute(sql`delete from imports i where ${isUnbegun}`)
  })
}

/** Removes refused rows of files that were brought in before a moment, so many at most. Returns how many. */
export async function forgetRefusedRows(
  db: Db,
  shopId: string,
  before: Instant,
  most: number,
): Promise<number> {
  const gone = await db.execute(sql`delete from import_refusals r using (
      select r.import_id, r.place from import_refusals r join imports i on i.shop_id = r.shop_id and i.id = r.import_id
      where r.shop_id = ${shopId} and i.ended_at < ${before} limit ${most}) old
    where r.shop_id = ${shopId} and r.import_id = old.import_id and r.place = old.place`)
  return gone.rowCount ?? 0
}
