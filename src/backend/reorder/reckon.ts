import { sql } from 'drizzle-orm'
import { reorderIntervals, type ReorderIntervals } from '../../core/reorder/interval.ts'
import { WATCHED_DAYS } from '../../core/reorder/purchases.ts'
import type { ReorderCheck } from '../../core/reorder/check.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { recordsOf, type Database, type Transaction } from '../platform/db.ts'
import { addJobs } from '../platform/jobs.ts'
import { expectMissing } from './expected.ts'
import { checkReorders } from './foretold.ts'
import { loadGaps } from './gaps.ts'

/** Intervals change slowly; as long as there is none, something may become known any day. */
const EVERY_DAYS = 7
const EVERY_DAYS_WITHOUT = 1

/** Has a shop's intervals reckoned if it is time by its clock; true if a job for it was added. */
export function reckonWhenDue(db: Database, shopId: string, now: Instant): Promise<boolean> {
  return db.transaction(async (tx) => {
    const next = now + EVERY_DAYS_WITHOUT * DAY_MS
    const { rows } = await tx.execute(sql`
      insert into reorder_reckonings as known (shop_id, next_at) values (${shopId}, ${next})
      on conflict (shop_id) do update set next_at = excluded.next_at where known.next_at <= ${now}
      returning 1`)
    if (rows.length === 0) return false
    await addJobs(tx, [{ name: 'reckonReorders', payload: { shopId } }])
    return true
  })
}

/**
 * Reckons after how many days each product is bought again, holds what was expected half a year ago against what came, and
 * gives a day to what was bought last and has none yet. Days that were given stay.
 */
export async function reckonReorders(db: Database, shopId: string, now: Instant): Promise<void> {
  const { gaps, sums } = await loadGaps(db, shopId, now)
  const intervals = reorderIntervals(gaps, sums)
  const checks = await checkReorders(db, shopId, now)
  await db.transaction(async (tx) => {
    await keepIntervals(tx, shopId, intervals, checks)
    await expectMissing(tx, shopId, intervals, now - WATCHED_DAYS * DAY_MS)
    const known = intervals.products.size + intervals.categories.size > 0
    const next = now + (known ? EVERY_DAYS : EVERY_DAYS_WITHOUT) * DAY_MS
    await tx.execute(sql`
      insert into reorder_reckonings (shop_id, reckoned_at, next_at) values (${shopId}, ${now}, ${next})
      on conflict (shop_id) do update set reckoned_at = excluded.reckoned_at, next_at = excluded.next_at`)
  })
}

async function keepIntervals(
  tx: Transaction,
  shopId: string,
  { products, categories }: ReorderIntervals,
  checks: ReadonlyMap<string, ReorderCheck>,
): Promise<void> {
  const rowsFor = (kind: string, intervals: ReorderIntervals['products']) =>
    [...intervals].map(([key, interval]) => ({
      kind,
      key,
      interval,
      checked: checks.get(`${kind} ${key}`) ?? null,
    }))
  const records = [...rowsFor('product', products), ...rowsFor('category', categories)]
  await tx.execute(sql`delete from reorder_intervals where shop_id = ${shopId}`)
  await tx.execute(sql`
    insert into reorder_intervals (shop_id, kind, key, interval, checked)
    select ${shopId}, i.kind, i.key, i.interval, i.checked
    from jsonb_to_recordset(${recordsOf(records)}) as i(kind text, key text, interval jsonb, checked jsonb)`)
}
