import type { CustomerFacts, ShopHoldout } from '../events/facts.ts'
import type { Instant } from '../shared/time.ts'
import { rollOf } from './arms.ts'

/** True for who gets no marketing now, to see what it causes. Each holdout draws anew, so that nobody is left out for ever. */
export function isHeldOut(
  holdout: ShopHoldout | null,
  { id, lists }: Pick<CustomerFacts, 'id' | 'lists'>,
  now: Instant,
): boolean {
  if (holdout === null || now < holdout.since) return false
  if (holdout.list !== undefined && !lists.includes(holdout.list)) return false
  return rollOf(`holdout of the shop ${holdout.since}`, id) * 100 < holdout.percent
}
