import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import {
  REMEMBERED_DAYS,
  WATCHED_DAYS,
  type Gaps,
  type GapSums,
} from '../../core/reorder/purchases.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { rowsOf, type Db } from '../platform/db.ts'

const gapRow: z.ZodType<Gaps> = z.object({
  productId: z.string(),
  category: z.string().nullable(),
  days: z.int(),
  came: z.boolean(),
  count: z.int(),
})

const sumRow: z.ZodType<GapSums> = z.object({
  productId: z.string(),
  category: z.string().nullable(),
  people: z.int(),
  gaps: z.int(),
  squares: z.int(),
  sum: z.number(),
  within: z.number(),
  between: z.number(),
})

/** What has been bought up to a moment in orders that stand. */
export const bought = (shopId: string, now: Instant): SQL => sql`
  select o.customer_id, l.product_id, l.category, o.placed_at as at
  from orders o join order_lines l on l.shop_id = o.shop_id and l.order_id = o.id
  where o.shop_id = ${shopId} and o.placed_at <= ${now}
    and o.placed_at > ${now - REMEMBERED_DAYS * DAY_MS}
    and o.status not in ('cancelled', 'refunded')`

/** The gaps between purchases as `core/reorder/purchases.ts` defines them, counted by the database. */
export async function loadGaps(
  db: Db,
  shopId: string,
  now: Instant,
): Promise<{ gaps: Gaps[]; sums: GapSums[] }> {
  const withGaps = sql`
    with bought as (${bought(shopId, now)}),
    followed as (
      select customer_id, product_id, first_value(category) over person as category,
        at, lead(at) over person as next
      from bought window person as (partition by customer_id, product_id order by at)
    ),
    gaps as (
      select customer_id, product_id, category, next is not null as followed,
        (coalesce(next, ${now}) - at) / ${DAY_MS}::bigint as days
      from followed
    ),
    watched as (
      select customer_id, product_id, category, least(days, ${WATCHED_DAYS})::int as days,
        followed and days <= ${WATCHED_DAYS} as came
      from gaps where not followed or days >= 1
    )`
  const gaps = await rowsOf(
    db,
    gapRow,
    sql`${withGaps} select product_id as "productId", min(category) as category, days, came,
      count(*)::int as count
    from watched group by product_id, days, came`,
  )
  const sums = await rowsOf(
    db,
    sumRow,
    sql`${withGaps},
    people as (
      select product_id, min(category) as category, count(*)::int as n, avg(ln(days::float8)) as mean,
        var_pop(ln(days::float8)) * count(*) as squares
      from watched where came group by customer_id, product_id
    )
    select product_id as "productId", min(category) as category, count(*)::int as people,
      sum(n)::int as gaps, sum(n * n)::int as squares, sum(n * mean) as sum, sum(squares) as within,
      sum(n * mean * mean) as between
    from people group by product_id`,
  )
  return { gaps, sums }
}
