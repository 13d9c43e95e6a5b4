import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import { armReport, type ArmReport } from '../../contract/experiments.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { COUNTS, countingOrders } from './earned.ts'

/** How far back traffic is looked at. */
export const TRAFFIC_DAYS = 28

/** Above this one order would outweigh a hundred others: the 99th percentile of the shop's last year. */
export async function dearestOrders(
  db: Db,
  { shopId, now }: { shopId: string; now: Instant },
): Promise<number> {
  const [row] = await rowsOf(
    db,
    z.object({ cut: z.number().nullable() }),
    sql`select percentile_disc(0.99) within group (order by total_minor) as cut
    from orders join shops on shops.id = orders.shop_id and shops.currency = orders.currency
    where orders.shop_id = ${shopId} and placed_at >= ${now - 365 * DAY_MS}::bigint and ${COUNTS}`,
  )
  return row?.cut ?? 0
}

const countedArm = armReport.omit({ key: true, name: true, weight: true, holdout: true })
const armRow = countedArm.extend({ arm: z.string(), recent: z.int() })
type ArmRow = z.infer<typeof armRow>

/**
 * What each arm did in the windows. `drawn` is a table of everybody drawn, one row each: `customer_id`, `run_id`, `arm`,
 * from `at` to `until`, `is_over`. `recent`: how many were drawn since `trafficFrom`.
 */
export function countArms(
  db: Db,
  shopId: string,
  drawn: SQL,
  { cutMinor, trafficFrom }: { cutMinor: number; trafficFrom: Instant },
): Promise<ArmRow[]> {
  const told = (type: string) => sql`exists (select 1 from events
    where events.shop_id = ${shopId} and events.customer_id = drawn.customer_id
      and events.type = ${type} and events.time > drawn.at and events.time <= drawn.until)`
  return rowsOf(
    db,
    armRow,
    sql`${drawn}, bought as (
      select drawn.customer_id, count(*) as orders, sum(orders.total_minor) as uncut,
        sum(least(orders.total_minor, ${cutMinor}::bigint)) as spent
      from drawn
      join orders on orders.shop_id = ${shopId} and orders.customer_id = drawn.customer_id
        and orders.placed_at > drawn.at and orders.placed_at <= drawn.until and ${COUNTS}
      join shops on shops.id = orders.shop_id and shops.currency = orders.currency
      group by 1
    ), each as (
      select drawn.arm, drawn.at, drawn.is_over, coalesce(bought.orders, 0) as orders,
        coalesce(bought.spent, 0) as spent, coalesce(bought.uncut, 0) as uncut,
        exists (select 1 from messages m where m.shop_id = ${shopId} and m.run_id = drawn.run_id
          and m.decided_at >= drawn.at and m.clicked_at <= drawn.until) as clicked,
        ${told('review.submitted')} as reviewed,
        ${told('message.unsubscribed')} or ${told('message.complained')} as unsubscribed
      from drawn left join bought on bought.customer_id = drawn.customer_id
    )
    select arm, count(*) as drawn, count(*) filter (where at >= ${trafficFrom}::bigint) as recent,
      count(*) filter (where is_over) as people,
      count(*) filter (where is_over and orders > 0) as ordered,
      coalesce(sum(orders) filter (where is_over), 0)::bigint as orders,
      coalesce(sum(spent) filter (where is_over), 0)::float8 as "revenueMinor",
      coalesce(sum(spent::float8 * spent::float8) filter (where is_over), 0) as "revenueSquares",
      coalesce(sum(uncut) filter (where is_over), 0)::bigint as "uncutMinor",
      count(*) filter (where is_over and clicked) as clicked,
      count(*) filter (where is_over and reviewed) as reviewed,
      count(*) filter (where is_over and unsubscribed) as unsubscribed
    from each group by arm`,
  )
}

/** How many were drawn lately, in all arms. */
export const recentOf = (arms: readonly ArmRow[]): number =>
  arms.reduce((sum, { recent }) => sum + recent, 0)

/** What is attributed to the messages of those drawn, last touch as everywhere, in their windows: of one workflow, or of all marketing. */
export async function attributed(
  db: Db,
  shopId: string,
  drawn: SQL,
  workflowId: string | null,
): Promise<number> {
  const [row] = await rowsOf(
    db,
    z.object({ revenue: z.number() }),
    sql`${drawn} select coalesce(sum(orders.total_minor), 0)::bigint as revenue
    ${countingOrders()}
    join drawn on drawn.customer_id = orders.customer_id and drawn.is_over
      and orders.placed_at > drawn.at and orders.placed_at <= drawn.until
    where orders.shop_id = ${shopId} and ${COUNTS}
      and ${workflowId === null ? sql`touch.marketing` : sql`touch.workflow_id = ${workflowId}`}`,
  )
  return row?.revenue ?? 0
}

/** What is known of an arm that nobody was drawn into. */
const NOBODY: Omit<ArmReport, 'key' | 'name' | 'weight' | 'holdout'> = {
  drawn: 0,
  people: 0,
  ordered: 0,
  orders: 0,
  revenueMinor: 0,
  revenueSquares: 0,
  uncutMinor: 0,
  clicked: 0,
  reviewed: 0,
  unsubscribed: 0,
}

/** What an arm did, as reports have it. */
export function figuresOf(arms: readonly ArmRow[], key: string): typeof NOBODY {
  const found = arms.find(({ arm }) => arm === key)
  if (!found) return NOBODY
  const { arm: _arm, recent: _recent, ...figures } = found
  return figures
}
