import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { WITHIN_DAYS, type CouponReport } from '../../contract/coupons.ts'
import { worth, type IssuedCoupon } from '../../core/coupons/redeem.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { document, rowsOf, type Db } from '../platform/db.ts'

/** How long after a code, or after it would have come, an order counts for whether people order anyway. */
const ANYWAY_DAYS = 30

type Ordered = CouponReport['anyway']['got']

// An order counts for a code of its own customer, placed after the code was issued.
const REDEEMED = sql`left join lateral (
    select o.id, o.total_minor, o.currency, o.placed_at from orders o
    where o.shop_id = c.shop_id and o.customer_id = c.customer_id and o.coupon_codes ? c.code
      and o.placed_at >= c.issued_at and o.status <> 'cancelled'
    order by o.placed_at limit 1
  ) o on true`

/** The codes of a shop by the step that issued them: how many were used and how soon, ran out, earned, and cost. */
export async function couponReport(db: Db, shopId: string, now: Instant): Promise<CouponReport[]> {
  const steps = await counted(db, shopId, now)
  const given = await givenAway(db, shopId)
  const got = await orderedWithCode(db, shopId, now)
  const heldOut = await orderedWithout(db, shopId, now)
  const of = <Row extends Step>(rows: readonly Row[], { workflowId, step }: Step) =>
    rows.find((one) => one.workflowId === workflowId && one.step === step)
  return steps.map((step) => ({
    ...step,
    givenAwayMinor: given.get(keyOf(step)) ?? 0,
    anyway: { got: orderedOf(of(got, step)), heldOut: orderedOf(of(heldOut, step)) },
  }))
}

interface Step {
  workflowId: string
  step: string
}

const keyOf = ({ workflowId, step }: Step): string => `${workflowId} ${step}`
const orderedOf = (row: Ordered | undefined): Ordered => ({
  people: row?.people ?? 0,
  ordered: row?.ordered ?? 0,
})

const countedRow = z.object({
  workflowId: z.string(),
  step: z.string(),
  issued: z.int(),
  redeemed: z.int(),
  expired: z.int(),
  revenueMinor: z.int(),
  within: z.array(z.int()),
  firstOrders: z.int(),
})

/** How many were redeemed within each of `WITHIN_DAYS`, as an array. */
const REDEEMED_WITHIN = sql`array[${sql.join(
  WITHIN_DAYS.map(
    (days) => sql`count(*) filter (where o.placed_at <= c.issued_at + ${days * DAY_MS}::bigint)`,
  ),
  sql`, `,
)}]::int[]`

/** The codes of a shop issued since a moment, together: how many were redeemed, and how soon. */
export async function codesUsedSince(
  db: Db,
  shopId: string,
  since: Instant,
): Promise<{ issued: number; redeemed: number; within: number[] }> {
  const [row] = await rowsOf(
    db,
    countedRow.pick({ issued: true, redeemed: true, within: true }),
    sql`select count(*) as issued, count(o.id) as redeemed, ${REDEEMED_WITHIN} as within
    from coupons c ${REDEEMED} where c.shop_id = ${shopId} and c.issued_at > ${since}::bigint`,
  )
  return row ?? { issued: 0, redeemed: 0, within: [] }
}

function counted(db: Db, shopId: string, now: Instant) {
  return rowsOf(
    db,
    countedRow,
    sql`select c.workflow_id as "workflowId", c.step, count(*) as issued, count(o.id) as redeemed,
      count(*) filter (where o.id is null and c.expires_at <= ${now}) as expired,
      coalesce(sum(o.total_minor) filter (where o.currency = s.currency), 0)::bigint as "revenueMinor",
      ${REDEEMED_WITHIN} as within,
      count(*) filter (where o.id is not null and not exists (select 1 from orders before
        where before.shop_id = c.shop_id and before.customer_id = c.customer_id
          and before.placed_at < o.placed_at and before.status <> 'cancelled')) as "firstOrders"
    from coupons c join shops s on s.id = c.shop_id ${REDEEMED}
    where c.shop_id = ${shopId} group by 1, 2 order by issued desc`,
  )
}

const redeemedRow = z.object({
  workflowId: z.string(),
  step: z.string(),
  discount: document<IssuedCoupon['discount']>(),
  minimum: document<NonNullable<IssuedCoupon['minimum']>>().nullable(),
  categories: z.array(z.string()),
  currency: z.string(),
  lines: z.array(z.object({ category: z.string().nullable(), quantity: z.number(), unitPriceMinor: z.number() })), // prettier-ignore
})

/** What the codes of each step took off the orders that named them, in the shop's currency. */
async function givenAway(db: Db, shopId: string): Promise<Map<string, number>> {
  const rows = await rowsOf(
    db,
    redeemedRow,
    sql`select c.workflow_id as "workflowId", c.step, c.discount, c.terms->'minimum' as minimum,
      coalesce(c.terms->'categories', '[]'::jsonb) as categories, o.currency,
      (select coalesce(jsonb_agg(jsonb_build_object('category', l.category, 'quantity', l.quantity,
          'unitPriceMinor', coalesce(l.unit_price_minor, 0))), '[]'::jsonb)
        from order_lines l where l.shop_id = c.shop_id and l.order_id = o.id) as lines
    from coupons c join shops s on s.id = c.shop_id ${REDEEMED}
    where c.shop_id = ${shopId} and o.id is not null and o.currency = s.currency`,
  )
  const given = new Map<string, number>()
  for (const { lines, currency, minimum, ...coupon } of rows) {
    const taken = worth({ ...coupon, minimum: minimum ?? undefined }, lines, currency)
    if (taken.ok) given.set(keyOf(coupon), (given.get(keyOf(coupon)) ?? 0) + taken.offMinor)
  }
  return given
}

const orderedRow = z.object({
  workflowId: z.string(),
  step: z.string(),
  people: z.int(),
  ordered: z.int(),
})

const ORDERED_SINCE = sql`exists (select 1 from orders where orders.shop_id = first.shop_id
  and orders.customer_id = first.customer_id and orders.placed_at > first.at
  and orders.placed_at <= first.at + ${ANYWAY_DAYS * DAY_MS}::bigint and orders.status <> 'cancelled')`

/** Who got a code 30 days ago or longer, by their first, and how many of them ordered within 30 days. */
function orderedWithCode(db: Db, shopId: string, now: Instant) {
  return rowsOf(
    db,
    orderedRow,
    sql`select workflow_id as "workflowId", step, count(*) as people,
      count(*) filter (where ${ORDERED_SINCE}) as ordered
    from (
      select shop_id, workflow_id, step, customer_id, min(issued_at) as at from coupons
      where shop_id = ${shopId} group by 1, 2, 3, 4
    ) first where at <= ${now - ANYWAY_DAYS * DAY_MS}::bigint group by 1, 2`,
  )
}

/** The same of those who were only held out of a message that brings such codes. */
function orderedWithout(db: Db, shopId: string, now: Instant) {
  return rowsOf(
    db,
    orderedRow,
    sql`with brings as (
      select distinct c.workflow_id, c.step, m.step as message from coupons c
      join messages m on m.shop_id = c.shop_id and m.run_id = c.run_id and m.decided_at >= c.issued_at
      where c.shop_id = ${shopId}
    )
    select workflow_id as "workflowId", step, count(*) as people,
      count(*) filter (where ${ORDERED_SINCE}) as ordered
    from (
      select l.shop_id, brings.workflow_id, brings.step, l.customer_id, min(l.at) as at
      from brings join ledger l on l.shop_id = ${shopId} and l.workflow_id = brings.workflow_id
        and l.kind = 'skipped' and l.entry->>'step' = brings.message
        and l.entry->'reason'->>'code' = 'holdout'
      group by 1, 2, 3, 4
    ) first where at <= ${now - ANYWAY_DAYS * DAY_MS}::bigint group by 1, 2`,
  )
}

/** Somebody who has come to order with codes only. */
const waitingRow = z.object({
  customerId: z.string(),
  name: z.string(),
  issued: z.number(),
  redeemed: z.number(),
  lastAt: z.number(),
})
export type Waiting = z.infer<typeof waitingRow>

const WAITING_DAYS = 365

/**
 * People who seem to wait for a code: in the last year they used at least two, and no order of
 * theirs since the first was without one.
 */
export function whoWaits(db: Db, shopId: string, now: Instant): Promise<Waiting[]> {
  return rowsOf(
    db,
    waitingRow,
    sql`select c.customer_id as "customerId",
      coalesce(nullif(concat_ws(' ', p.first_name, p.last_name), ''), p.email, p.id) as name,
      count(*) as issued, count(o.id) as redeemed, max(o.placed_at) as "lastAt"
    from coupons c ${REDEEMED}
    join customers p on p.shop_id = c.shop_id and p.id = c.customer_id
    where c.shop_id = ${shopId} and c.issued_at > ${now - WAITING_DAYS * DAY_MS}
    group by c.shop_id, c.customer_id, p.first_name, p.last_name, p.email, p.id
    having count(o.id) >= 2 and not exists (
      select 1 from orders other where other.shop_id = c.shop_id and other.customer_id = c.customer_id
        and other.placed_at > min(o.placed_at) and other.coupon_codes = '[]'::jsonb
        and other.status <> 'cancelled')
    order by redeemed desc, "lastAt" desc limit 100`,
  )
}
