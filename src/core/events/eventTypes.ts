/** What an event carries and is about. */
export type EntityKind =
  | 'order'
  | 'basket'
  | 'checkout'
  | 'subscription'
  | 'review'
  | 'product'
  | 'customer'
  | 'consent'
  | 'message'

/** What a run can be about. Events about anything else are about the customer. */
export type SubjectKind = 'order' | 'basket' | 'checkout' | 'subscription' | 'review' | 'customer'

/** The event types Yomble understands. What they are called is in `core/words/eventWords.ts`. */
export const EVENT_TYPES = [
  'order.placed',
  'order.paid',
  'order.processing',
  'order.completed',
  'order.fulfilled',
  'order.delivered',
  'order.cancelled',
  'order.refunded',
  'order.payment_failed',
  'order.status_changed',
  'basket.item_added',
  'checkout.started',
  'subscription.created',
  'subscription.status_changed',
  'subscription.trial_ended',
  'subscription.renewed',
  'subscription.payment_failed',
  'subscription.changed',
  'review.submitted',
  'product.viewed',
  'customer.created',
  'customer.changed',
  'consent.changed',
  'message.delivered',
  'message.opened',
  'message.clicked',
  'message.bounced',
  'message.complained',
  'message.unsubscribed',
  'message.replied',
] as const

export type EventType = (typeof EVENT_TYPES)[number]
export type OrderEventType = Extract<EventType, `order.${string}`>

/** What an event of a type carries. */
export function entityOf(type: EventType): EntityKind {
  return type.slice(0, type.indexOf('.')) as EntityKind
}

const SUBJECTS: ReadonlySet<string> = new Set<SubjectKind>([
  'order',
  'basket',
  'checkout',
  'subscription',
  'review',
])

/** What a run that an event of a type starts is about. */
export function subjectKindOf(type: EventType): SubjectKind {
  const entity = entityOf(type)
  return SUBJECTS.has(entity) ? (entity as SubjectKind) : 'customer'
}

/** True for events that say what a status was and what it has become. */
export function isStatusChange(type: EventType): boolean {
  return type === 'order.status_changed' || type === 'subscription.status_changed'
}
