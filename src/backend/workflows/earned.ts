import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { earned, type Earned, type WorkflowNumbersResponse } from '../../contract/workflows.ts'
import { CUSTOMER_CHANNELS } from '../../core/channels/catalogue.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { arrayOf, rowsOf, type Db } from '../platform/db.ts'
import { WAY } from './way.ts'

/** How long after a message an order still counts for it; at that very moment it does. */
const ATTRIBUTION_WINDOW_MS = 7 * DAY_MS

/**
 * What the workflows of a shop have earned since a moment: each order counts for the one whose
 * message the customer got last in the seven days before it (last touch). Orders that were cancelled
 * or refunded, and those in another currency than the shop's, count for none.
 */
export async function earnedSince(
  db: Db,
  shopId: string,
  since: Instant,
): Promise<Map<string, Earned>> {
  const rows = await rowsOf(
    db,
    earned.extend({ workflowId: z.string() }),
    sql`select touch.workflow_id as "workflowId", ${EARNED}
    ${countingOrders()}
    where orders.shop_id = ${shopId} and orders.placed_at >= ${since} and ${COUNTS}
    group by touch.workflow_id`,
  )
  return new Map(
    rows.map(({ workflowId, orders, revenueMinor }) => [workflowId, { orders, revenueMinor }]),
  )
}

/**
 * What each message of a workflow has earned, counted like that, and each path: the orders that
 * count for any message of a run that took it, after it was taken.
 */
export async function earnedByStep(
  db: Db,
  shopId: string,
  id: string,
): Promise<WorkflowNumbersResponse['earned']> {
  // Only those who got its messages can have ordered for it.
  const touched = sql`${countingOrders()}
    where orders.shop_id = ${shopId} and ${COUNTS} and touch.workflow_id = ${id}
      and orders.customer_id in (
        select customer_id from messages where shop_id = ${shopId} and workflow_id = ${id}
      )`
  const steps = await rowsOf(
    db,
    earned.extend({ step: z.string() }),
    sql`select touch.step, ${EARNED} ${touched} group by 1`,
  )
  const branches = await rowsOf(
    db,
    earned.extend({ step: z.string(), branch: z.string().nullable() }),
    sql`select way.step, way.branch, count(*) as orders,
      sum(touched.total_minor)::bigint as "revenueMinor"
    from (select orders.total_minor, orders.placed_at, touch.run_id ${touched}) touched
    cross join lateral (
      select distinct ledger.entry->>'step' as step, ${WAY} as branch from ledger
      where ledger.shop_id = ${shopId} and ledger.run_id = touched.run_id
        and ledger.kind in ('tookBranch', 'tookArm', 'came') and ledger.at <= touched.placed_at
    ) way
    group by 1, 2`,
  )
  return { steps, branches }
}

const EARNED = sql`count(*) as orders, sum(orders.total_minor)::bigint as "revenueMinor"`

/** Orders that were undone count for nothing. */
export const COUNTS = sql`orders.status not in ('cancelled', 'refunded')`

/** Orders in the shop's currency, each with the message its customer got last before it. */
export const countingOrders = () => sql`from orders
    join shops on shops.id = orders.shop_id and shops.currency = orders.currency
    cross join lateral (
      select messages.workflow_id, messages.step, messages.run_id, messages.marketing from messages
      where messages.shop_id = orders.shop_id and messages.customer_id = orders.customer_id
        and messages.status = 'sent' and messages.channel = any(${arrayOf(CUSTOMER_CHANNELS, 'text')})
        and messages.decided_at < orders.placed_at
        and messages.decided_at >= orders.placed_at - ${ATTRIBUTION_WINDOW_MS}::bigint
      order by messages.decided_at desc, messages.id desc
      limit 1
    ) touch`
