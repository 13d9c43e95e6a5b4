import type { CouponRefusal } from '../coupons/redeem.ts'

const REFUSALS: Readonly<Record<CouponRefusal['code'], string>> = {
  unknownCode: 'There is no such code.',
  somebodyElses: 'It is somebody else’s.',
  expired: 'It has expired.',
  usedUp: 'It has been used as often as it can be.',
  nothingCounts: 'Nothing in the order counts for it.',
  otherCurrency: 'It is for another currency.',
  belowMinimum: 'The order does not come to enough for it.',
}

/** Why a code does not count for an order, as a sentence. */
export const couponRefusalWords = ({ code }: CouponRefusal): string => REFUSALS[code]
