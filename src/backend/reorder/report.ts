import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { ReordersResponse } from '../../contract/reorders.ts'
import type { ReorderCheck } from '../../core/reorder/check.ts'
import type { ReorderInterval } from '../../core/reorder/interval.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { document, rowsOf, type Db } from '../platform/db.ts'

const SOON_DAYS = 30

const reportRow = z.object({
  kind: z.enum(['product', 'category']),
  key: z.string(),
  name: z.string(),
  interval: document<ReorderInterval>(),
  check: z.nullable(document<ReorderCheck>()),
  soon: z.int(),
})

/** When products are bought again, those that most people will buy soon first; a category counts for its products that have too few orders of their own. */
export async function reorderReport(
  db: Db,
  shopId: string,
  now: Instant,
): Promise<ReordersResponse> {
  const [reckoning] = await rowsOf(
    db,
    z.object({ reckonedAt: z.number().nullable() }),
    sql`select reckoned_at as "reckonedAt" from reorder_reckonings where shop_id = ${shopId}`,
  )
  const rows = await rowsOf(
    db,
    reportRow,
    sql`with soon as (
      select case when e.expected->>'by' = 'category' then 'category'
          when exists (select 1 from reorder_intervals i where i.shop_id = e.shop_id
            and i.kind = 'product' and i.key = e.product_id) then 'product'
          else 'category' end as kind,
        e.product_id, p.category, count(*)::int as people
      from expected_reorders e left join products p on p.shop_id = e.shop_id and p.id = e.product_id
      where e.shop_id = ${shopId} and e.expected_at > ${now}
        and e.expected_at <= ${now + SOON_DAYS * DAY_MS}
      group by 1, 2, 3
    )
    select i.kind, i.key, coalesce(p.title, i.key) as name, i.interval, i.checked as check,
      coalesce((select sum(people) from soon s where s.kind = i.kind
        and i.key = case i.kind when 'product' then s.product_id else s.category end), 0)::int as soon
    from reorder_intervals i
    left join products p on i.kind = 'product' and p.shop_id = i.shop_id and p.id = i.key
    where i.shop_id = ${shopId}
    order by i.kind desc, soon desc, name`,
  )
  return { reckonedAt: reckoning?.reckonedAt ?? null, rows }
}
