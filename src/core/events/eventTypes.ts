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

interface EventTypeSpec {
  /** Its name. */
  label: string
  /** What happens: "when …". */
  happened: string
  /** What has been done to the thing: "this order …". */
  past: string
}

const spec = (label: string, happened: string, past: string): EventTypeSpec => ({
  label,
  happened,
  past,
})

/** The event types Yomble understands, with the words the interface uses for them. */
export const EVENT_TYPES = {
  'order.placed': spec('order placed', 'an order is placed', 'placed'),
  'order.paid': spec('order paid', 'an order is paid', 'paid'),
  'order.processing': spec('order being prepared', 'an order is being prepared', 'taken in hand'),
  'order.completed': spec('order closed', 'an order is closed', 'closed'),
  'order.fulfilled': spec('order fulfilled', 'an order is fulfilled', 'fulfilled'),
  'order.delivered': spec('order delivered', 'an order is delivered', 'delivered'),
  'order.cancelled': spec('order cancelled', 'an order is cancelled', 'cancelled'),
  'order.refunded': spec('order refunded', 'an order is refunded', 'refunded'),
  'order.payment_failed': spec(
    'payment failed',
    'the payment of an order fails',
    'not paid: payment failed',
  ),
  'order.status_changed': spec(
    'order status changed',
    'the status of an order changes',
    'changed in status',
  ),
  'basket.item_added': spec('item put in basket', 'an item is put in a basket', 'added to'),
  'checkout.started': spec('checkout started', 'a checkout is started', 'started'),
  'subscription.created': spec('subscription created', 'a subscription is created', 'created'),
  'subscription.status_changed': spec(
    'subscription status changed',
    'the status of a subscription changes',
    'changed in status',
  ),
  'subscription.trial_ended': spec('trial ended', 'a trial ends', 'past its trial'),
  'subscription.renewed': spec('subscription renewed', 'a subscription is renewed', 'renewed'),
  'subscription.payment_failed': spec(
    'renewal payment failed',
    'the payment of a renewal fails',
    'not renewed: payment failed',
  ),
  'subscription.changed': spec('subscription changed', 'a subscription is changed', 'changed'),
  'review.submitted': spec('review submitted', 'a review is submitted', 'submitted'),
  'product.viewed': spec('product viewed', 'a product is viewed', 'viewed'),
  'customer.created': spec('customer created', 'a customer is created', 'created'),
  'customer.changed': spec('customer changed', 'the data of a customer change', 'changed'),
  'consent.changed': spec('consent changed', 'somebody gives or withdraws consent', 'changed'),
  'message.delivered': spec('message delivered', 'a message is delivered', 'delivered'),
  'message.opened': spec('message opened', 'a message is opened', 'opened'),
  'message.clicked': spec('link clicked', 'a link in a message is clicked', 'clicked'),
  'message.bounced': spec('message bounced', 'a message comes back', 'returned'),
  'message.complained': spec(
    'complaint about a message',
    'somebody complains about a message',
    'complained about',
  ),
  'message.unsubscribed': spec('unsubscribed', 'somebody unsubscribes', 'unsubscribed from'),
  'message.replied': spec('message answered', 'somebody answers a message', 'answered'),
} as const satisfies Record<string, EventTypeSpec>

export type EventType = keyof typeof EVENT_TYPES
export type OrderEventType = Extract<EventType, `order.${string}`>

export const EVENT_TYPE_NAMES = Object.keys(EVENT_TYPES) as [EventType, ...EventType[]]

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
