import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { IssuedCoupon } from '../../core/coupons/redeem.ts'
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
