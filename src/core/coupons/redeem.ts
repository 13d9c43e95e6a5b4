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

/** Why a code does not count for an order. */
export type CouponRefusal =
  | { code: 'unknownCode' }
  | { code: 'somebodyElses' }
  | { code: 'expired'; expiredAt: Instant }
  | { code: 'usedUp'; maxUses: number }
  | { code: 'nothingCounts'; categories: readonly string[] }
  | { code: 'otherCurrency'; currency: string }
  | { code: 'belowMinimum'; minimumMinor: number; countingMinor: number }

/** What a code takes off an order, in minor units; or why it does not count. */
export type Redemption = { ok: true; offMinor: number } | { ok: false; refusal: CouponRefusal }

const no = (refusal: CouponRefusal): Redemption => ({ ok: false, refusal })

/** What an issued code is worth for an order. At the very moment of its expiry it is over. */
export function redemption(coupon: IssuedCoupon, purchase: Purchase): Redemption {
  const { maxUses, expiresAt } = coupon
  const { now, customerId, currency, lines, used } = purchase
  if (coupon.customerId !== customerId) return no({ code: 'somebodyElses' })
  if (expiresAt !== null && now >= expiresAt) return no({ code: 'expired', expiredAt: expiresAt })
  if (maxUses !== null && used >= maxUses) return no({ code: 'usedUp', maxUses })
  return worth(coupon, lines, currency)
}

/** What a code takes off lines, whoever brings it and whenever. */
export function worth(
  { discount, minimum, categories }: Pick<IssuedCoupon, 'discount' | 'minimum' | 'categories'>,
  lines: Purchase['lines'],
  currency: string,
): Redemption {
  const counting = lines.filter(
    ({ category }) => categories.length === 0 || categories.includes(category ?? ''),
  )
  const sum = counting.reduce((all, one) => all + one.quantity * one.unitPriceMinor, 0)
  if (sum === 0) return no({ code: 'nothingCounts', categories })
  if (minimum && minimum.currency !== currency) {
    return no({ code: 'otherCurrency', currency: minimum.currency })
  }
  if (minimum && sum < minimum.amountMinor) {
    return no({ code: 'belowMinimum', minimumMinor: minimum.amountMinor, countingMinor: sum })
  }
  if (discount.kind === 'percent') {
    return { ok: true, offMinor: Math.round((sum * discount.percent) / 100) }
  }
  if (discount.amount.currency !== currency) {
    return no({ code: 'otherCurrency', currency: discount.amount.currency })
  }
  return { ok: true, offMinor: Math.min(sum, discount.amount.amountMinor) }
}
