import type { ShopHoldout } from '../events/facts.ts'
import type { Instant } from '../shared/time.ts'
import { rollOf } from './arms.ts'

/** True for who gets no marketing now, to see what it causes. Each holdout draws anew, so that nobody is left out for ever. */
export function isHeldOut(holdout: ShopHoldout | null, customerId: string, now: Instant): boolean {
  if (holdout === null || now < holdout.since) return false
  return rollOf(`holdout of the shop ${holdout.since}`, customerId) * 100 < holdout.percent
}
