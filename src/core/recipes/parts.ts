import type { Condition } from '../conditions/condition.ts'
import type { EventType } from '../events/eventTypes.ts'
import type { Definition, Exclusion } from '../workflow/definition.ts'
import type { CouponStep, Step } from '../workflow/steps.ts'

/** What a recipe takes from the shop it is used in. */
export interface RecipeShop {
  name: string
  currency: string
  sender: { name: string; address: string }
  /** What is ordered most often comes first. */
  categories: readonly string[]
  /** The keys of its groups of staff. */
  groups: readonly string[]
  /** The product that a recipe about one is for. */
  product: { id: string; title: string }
}

/** A starting point: what it is for, and the workflow it makes for a shop. */
export interface Recipe {
  key: string
  purpose: string
  /** What has to be chosen before it is used. */
  asks?: 'product'
  make: (shop: RecipeShop) => Definition
}

/** A workflow with the parts that most recipes have. */
export function workflow(
  parts: Pick<Definition, 'name' | 'description' | 'trigger' | 'steps'> & Partial<Definition>,
): Definition {
  return {
    format: 'yomble.workflow',
    formatVersion: 1,
    priority: 50,
    entry: { rule: { kind: 'every' }, overlap: 'allow' },
    exclusions: [],
    ...parts,
  }
}

export const wait = (key: string, duration: string): Step => ({ key, kind: 'wait', for: duration })

/** "This has happened since entry": to the thing itself, or to the customer. */
export function happened(event: EventType, about: 'subject' | 'customer' = 'subject'): Condition {
  return {
    kind: 'history',
    event,
    about,
    count: { op: 'atLeast', times: 1 },
    window: { kind: 'sinceEntry' },
  }
}

export const leaveIf = (key: string, when: Condition): Exclusion => ({ key, when, effect: 'leave' })

/** "They have ordered the product since entry." */
export const boughtSinceEntry = (productId: string): Condition => ({
  kind: 'history',
  event: 'order.placed',
  about: 'customer',
  count: { op: 'atLeast', times: 1 },
  window: { kind: 'sinceEntry' },
  where: { kind: 'field', field: 'order.products', op: 'hasAny', value: [productId] },
})

/** Who must not hear of an order that was undone. */
export const UNDONE: readonly Exclusion[] = [
  leaveIf('cancelled', happened('order.cancelled')),
  leaveIf('refunded', happened('order.refunded')),
]

/** "The subscription goes on no more." */
export const NOT_ACTIVE: Condition = {
  kind: 'not',
  of: { kind: 'field', field: 'subscription.status', op: 'in', value: ['running', 'trial'] },
}

/** Whoever has written a bad review must not be written to as if nothing had been. */
export const UNHAPPY: Exclusion = leaveIf('unhappy', {
  kind: 'history',
  event: 'review.submitted',
  about: 'customer',
  count: { op: 'atLeast', times: 1 },
  window: { kind: 'sinceEntry' },
  where: { kind: 'field', field: 'review.stars', op: 'lte', value: 2 },
})

/** A code for each person that counts for three days. */
export const coupon = (
  key: string,
  name: string,
  pattern: string,
  percent: number,
): CouponStep => ({
  key,
  kind: 'coupon',
  name,
  pattern,
  discount: { kind: 'percent', percent },
  expiresAfter: 'P3D',
})

/** "It is the customer's order number `times`"; 0 for those who have never ordered. */
export function ordersEver(times: number): Condition {
  return {
    kind: 'history',
    event: 'order.placed',
    about: 'customer',
    count: { op: 'exactly', times },
    window: { kind: 'ever' },
  }
}

/** "Something of one of these categories was ordered." */
export const anyCategory = (...names: string[]): Condition => ({
  kind: 'field',
  field: 'order.categories',
  op: 'hasAny',
  value: names,
})

/** "Something of each of these categories was ordered." */
export const allCategories = (...names: string[]): Condition => ({
  kind: 'field',
  field: 'order.categories',
  op: 'hasAll',
  value: names,
})

/** Not sooner than thirty days after the last time, and one at a time. */
export const MONTHLY: Definition['entry'] = {
  rule: { kind: 'after', duration: 'P30D' },
  overlap: 'one',
}
