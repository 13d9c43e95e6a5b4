import type { EventType } from '../events/eventTypes.ts'

interface EventWords {
  /** Its name. */
  label: string
  /** What happens: "when …". */
  happened: string
  /** What has been done to the thing: "this order …". */
  past: string
}

const words = (label: string, happened: string, past: string): EventWords => ({
  label,
  happened,
  past,
})

/** What the types of events are called. */
export const EVENT_WORDS: Readonly<Record<EventType, EventWords>> = {
  'order.placed': words('order placed', 'an order is placed', 'placed'),
  'order.paid': words('order paid', 'an order is paid', 'paid'),
  'order.processing': words('order being prepared', 'an order is being prepared', 'taken in hand'),
  'order.completed': words('order closed', 'an order is closed', 'closed'),
  'order.fulfilled': words('order fulfilled', 'an order is fulfilled', 'fulfilled'),
  'order.delivered': words('order delivered', 'an order is delivered', 'delivered'),
  'order.cancelled': words('order cancelled', 'an order is cancelled', 'cancelled'),
  'order.refunded': words('order refunded', 'an order is refunded', 'refunded'),
  'order.payment_failed': words(
    'payment failed',
    'the payment of an order fails',
    'not paid: payment failed',
  ),
  'order.status_changed': words(
    'order status changed',
    'the status of an order changes',
    'changed in status',
  ),
  'basket.item_added': words('item put in basket', 'an item is put in a basket', 'added to'),
  'checkout.started': words('checkout started', 'a checkout is started', 'started'),
  'subscription.created': words('subscription created', 'a subscription is created', 'created'),
  'subscription.status_changed': words(
    'subscription status changed',
    'the status of a subscription changes',
    'changed in status',
  ),
  'subscription.trial_ended': words('trial ended', 'a trial ends', 'past its trial'),
  'subscription.renewed': words('subscription renewed', 'a subscription is renewed', 'renewed'),
  'subscription.payment_failed': words(
    'renewal payment failed',
    'the payment of a renewal fails',
    'not renewed: payment failed',
  ),
  'subscription.changed': words('subscription changed', 'a subscription is changed', 'changed'),
  'review.submitted': words('review submitted', 'a review is submitted', 'submitted'),
  'product.viewed': words('product viewed', 'a product is viewed', 'viewed'),
  'customer.created': words('customer created', 'a customer is created', 'created'),
  'customer.changed': words('customer changed', 'the data of a customer change', 'changed'),
  'consent.changed': words('consent changed', 'somebody gives or withdraws consent', 'changed'),
  'message.delivered': words('message delivered', 'a message is delivered', 'delivered'),
  'message.opened': words('message opened', 'a message is opened', 'opened'),
  'message.clicked': words('link clicked', 'a link in a message is clicked', 'clicked'),
  'message.bounced': words('message bounced', 'a message comes back', 'returned'),
  'message.complained': words(
    'complaint about a message',
    'somebody complains about a message',
    'complained about',
  ),
  'message.unsubscribed': words('unsubscribed', 'somebody unsubscribes', 'unsubscribed from'),
  'message.replied': words('message answered', 'somebody answers a message', 'answered'),
}
