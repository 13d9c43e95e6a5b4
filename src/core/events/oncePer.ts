import type { EventType } from './eventTypes.ts'

/** Events with which a thing begins: of one order, checkout, … each happens once, before anything else. */
const BEGINNINGS: ReadonlySet<EventType> = new Set<EventType>([
  'order.placed',
  'checkout.started',
  'subscription.created',
  'review.submitted',
  'customer.created',
])

/** True for an event that cannot happen to a thing again once a workflow is about it. */
export const isBeginning = (type: EventType): boolean => BEGINNINGS.has(type)
