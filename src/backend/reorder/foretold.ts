import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { checkForetold, type Foretold, type ReorderCheck } from '../../core/reorder/check.ts'
import { expectedDays, ownGaps } from '../../core/reorder/expect.ts'
import { reorderIntervals } from '../../core/reorder/interval.ts'
import { WATCHED_DAYS } from '../../core/reorder/purchases.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { bought, loadGaps } from './gaps.ts'

/** What was expected is held against what came for so many days. */
export const CHECKED_DAYS = 180

const ownTimes = z.object({
  productId: z.string(),
  category: z.string().nullable(),
  times: z.array(z.number()),
})

/**
 * Replays the last half year: the intervals are those that were known before it, each purchase is expected again by what was
 * known of its buyer then, and the days that fell in the half year are held against the orders that came. By
 * `product <id>` and, for products that had too few orders of their own, `category <name>`.
 */
export async function checkReorders(
  db: Db,
  shopId: string,
  now: Instant,
): Promise<Map<string, ReorderCheck>> {
  const from = now - CHECKED_DAYS * DAY_MS
  const { gaps, sums } = await loadGaps(db, shopId, from)
  const intervals = reorderIntervals(gaps, sums)
  const rows = await rowsOf(
    db,
    ownTimes,
    sql`with bought as (${bought(shopId, now)})
    select product_id as "productId", min(category) as category, jsonb_agg(at order by at) as times
    from bought group by customer_id, product_id
    having max(at) > ${from - WATCHED_DAYS * DAY_MS}`,
  )
  const foretold = new Map<string, Foretold[]>()
  for (const { productId, category, times } of rows) {
    times.forEach((at, index) => {
      const gapsBefore = ownGaps(times.slice(0, index + 1))
      const expected = expectedDays(intervals, { productId, category }, gapsBefore)
      if (!expected) return
      const ofProduct = intervals.products.has(productId)
      const key = ofProduct ? `product ${productId}` : `category ${category}`
      const one = { expectedAt: at + expected.days * DAY_MS, nextAt: nextAfter(times, index) }
      const list = foretold.get(key)
      if (list) list.push(one)
      else foretold.set(key, [one])
    })
  }
  return new Map(
    [...foretold].map(([key, list]) => [key, checkForetold(list, { from, until: now })]),
  )
}

/** The next purchase; what follows within a day belongs to the same one. */
const nextAfter = (times: readonly Instant[], index: number): Instant | null =>
  times.slice(index + 1).find((at) => at - (times[index] ?? 0) >= DAY_MS) ?? null
