import type { Instant } from '../shared/time.ts'
import type { CouponStep } from '../workflow/steps.ts'

/** A code as it was issued. */
export interface IssuedCoupon {
  code: string
  customerId: string
  discount: CouponStep['discount']
  /** The least an order has to come to, for what counts for it. */
  minimum: CouponStep['minimum']
  /** Only what is of these categories counts; none: everything does. */
  categories: readonly string[]
  /** How often the code can be used by anybody; null for as often as they like. */
  maxUses: number | null
  expiresAt: Instant | null
}

interface Purchase {
  now: Instant
  customerId: string
  currency: string
  lines: readonly { category: string | null; quantity: number; unitPriceMinor: number }[]
  /** How often the code was used already. */
  used: number
}

/** What a code takes off an order, in minor units; or why it does not count. */
export type Redemption = { ok: true; offMinor: number } | { ok: false; why: string }

const no = (why: string): Redemption => ({ ok: false, why })

/** What an issued code is worth for an order. At the very moment of its expiry it is over. */
export function redemption(coupon: IssuedCoupon, purchase: Purchase): Redemption {
  const { categories, maxUses, expiresAt } = coupon
  const { now, customerId, currency, lines, used } = purchase
  if (coupon.customerId !== customerId) return no('It is somebody else’s.')
  if (expiresAt !== null && now >= expiresAt) return no('It has expired.')
  if (maxUses !== null && used >= maxUses) return no('It has been used as often as it can be.')
  const counting = lines.filter(
    ({ category }) => categories.length === 0 || categories.includes(category ?? ''),
  )
  const sum = counting.reduce((all, one) => all + one.quantity * one.unitPriceMinor, 0)
  return sum === 0 ? no('Nothing in the order counts for it.') : worth(coupon, sum, currency)
}

/** What it takes off a sum of what counts. */
function worth({ discount, minimum }: IssuedCoupon, sum: number, currency: string): Redemption {
  if (minimum && minimum.currency !== currency) return no('It is for another currency.')
  if (minimum && sum < minimum.amountMinor) return no('The order does not come to enough for it.')
  if (discount.kind === 'percent') {
    return { ok: true, offMinor: Math.round((sum * discount.percent) / 100) }
  }
  if (discount.amount.currency !== currency) return no('It is for another currency.')
  return { ok: true, offMinor: Math.min(sum, discount.amount.amountMinor) }
}
