import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { IssuedCoupon } from '../../core/coupons/redeem.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { document, rowsOf, type Db } from '../platform/db.ts'

const issuedRow = z.object({
  code: z.string(),
  customerId: z.string(),
  discount: document<IssuedCoupon['discount']>(),
  minimum: document<NonNullable<IssuedCoupon['minimum']>>().nullable(),
  categories: z.array(z.string()),
  maxUses: z.number().nullable(),
  expiresAt: z.number().nullable(),
  used: z.number(),
})

/** A code of somebody's, with how often it was used; null where there is none. */
export async function findCoupon(
  db: Db,
  shopId: string,
  code: string,
  customerId: string,
): Promise<(IssuedCoupon & { used: number }) | null> {
  const [row] = await rowsOf(
    db,
    issuedRow,
    sql`select c.code, c.customer_id as "customerId", c.discount, c.terms->'minimum' as minimum,
      coalesce(c.terms->'categories', '[]'::jsonb) as categories,
      (c.terms->>'maxUses')::int as "maxUses", c.expires_at as "expiresAt",
      (select count(*) from orders o where o.shop_id = c.shop_id and o.coupon_codes ? c.code
        and o.status <> 'cancelled') as used
    from coupons c where c.shop_id = ${shopId} and upper(c.code) = upper(${code})
    -- A code that many share is asked for as the customer's own.
    order by (c.customer_id = ${customerId}) desc, c.issued_at desc limit 1`,
  )
  return row ? { ...row, minimum: row.minimum ?? undefined } : null
}

/** What became of the codes of one coupon step. */
const couponReportRow = z.object({
  workflowId: z.string(),
  step: z.string(),
  issued: z.number(),
  redeemed: z.number(),
  expired: z.number(),
  revenueMinor: z.number(),
})
export type CouponReport = z.infer<typeof couponReportRow>

// An order counts for a code of its own customer, placed after the code was issued.
const REDEEMED = sql`left join lateral (
    select o.id, o.total_minor, o.currency, o.placed_at from orders o
    where o.shop_id = c.shop_id and o.customer_id = c.customer_id and o.coupon_codes ? c.code
      and o.placed_at >= c.issued_at and o.status <> 'cancelled'
    order by o.placed_at limit 1
  ) o on true`

/** The codes of a shop by the step that issued them: how many were used, ran out, and earned. */
export function couponReport(db: Db, shopId: string, now: Instant): Promise<CouponReport[]> {
  return rowsOf(
    db,
    couponReportRow,
    sql`select c.workflow_id as "workflowId", c.step, count(*) as issued, count(o.id) as redeemed,
      count(*) filter (where o.id is null and c.expires_at <= ${now}) as expired,
      coalesce(sum(o.total_minor) filter (where o.currency = s.currency), 0)::bigint as "revenueMinor"
    from coupons c join shops s on s.id = c.shop_id ${REDEEMED}
    where c.shop_id = ${shopId} group by 1, 2 order by issued desc`,
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

/** A code as the shop's own system takes it in. */
const codeForShopRow = z.object({
  code: z.string(),
  customerId: z.string(),
  discount: document<IssuedCoupon['discount']>(),
  terms: document<{ minimum?: IssuedCoupon['minimum']; categories?: string[]; maxUses?: number }>(),
  issuedAt: z.number(),
  expiresAt: z.number().nullable(),
})
export type CodeForShop = z.infer<typeof codeForShopRow>

/** The codes issued since a moment, that one included, the oldest first. */
export function codesSince(
  db: Db,
  shopId: string,
  since: Instant,
  most: number,
): Promise<CodeForShop[]> {
  return rowsOf(
    db,
    codeForShopRow,
    sql`select code, customer_id as "customerId", discount, terms, issued_at as "issuedAt",
      expires_at as "expiresAt"
    from coupons where shop_id = ${shopId} and issued_at >= ${since}
    order by issued_at, code limit ${most}`,
  )
}
