import { sql } from 'drizzle-orm'
import type { Earned } from '../../contract/workflows.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { rowsOf, type Db } from '../platform/db.ts'

/** How long after a message an order still counts for it; at that very moment it does. */
const ATTRIBUTION_WINDOW_MS = 7 * DAY_MS

interface EarnedRow extends Earned, Record<string, unknown> {
  workflowId: string
}

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
  const rows = await rowsOf<EarnedRow>(
    db,
    sql`select touch.workflow_id as "workflowId", count(*) as orders,
      sum(orders.total_minor)::bigint as "revenueMinor"
    from orders
    join shops on shops.id = orders.shop_id and shops.currency = orders.currency
    cross join lateral (
      select messages.workflow_id from messages
      where messages.shop_id = orders.shop_id and messages.customer_id = orders.customer_id
        and messages.status = 'sent' and messages.channel in ('email', 'sms')
        and messages.decided_at < orders.placed_at
        and messages.decided_at >= orders.placed_at - ${ATTRIBUTION_WINDOW_MS}::bigint
      order by messages.decided_at desc, messages.id desc
      limit 1
    ) touch
    where orders.shop_id = ${shopId} and orders.placed_at > ${since}
      and orders.status not in ('cancelled', 'refunded')
    group by touch.workflow_id`,
  )
  return new Map(
    rows.map(({ workflowId, orders, revenueMinor }) => [workflowId, { orders, revenueMinor }]),
  )
}
