import { parseInstant, type Instant } from '../shared/time.ts'
import { statusChangeOf, type EventData } from './cloudEvent.ts'
import type {
  CartData,
  OrderData,
  OrderLineData,
  OrderStatus,
  ReviewData,
  SubscriptionData,
} from './entities.ts'
import type { EventType, OrderEventType } from './eventTypes.ts'
import type {
  CartFacts,
  EntityFacts,
  LineFacts,
  OrderDetails,
  OrderFacts,
  ReviewFacts,
  SubscriptionFacts,
} from './facts.ts'

/** An entity that nothing is known of. */
export const NO_ENTITY: EntityFacts = {
  order: null,
  line: null,
  checkout: null,
  basket: null,
  subscription: null,
  review: null,
}

const instantOrNull = (text: string | null | undefined): Instant | null =>
  text === null || text === undefined ? null : parseInstant(text)

/** The facts an event carries about its entity, as they were when it happened. */
export function entityFacts(type: EventType, data: EventData, at: Instant): EntityFacts {
  if ('order' in data) {
    const order = orderFacts(data.order, statusAfter(type, data), at)
    return { ...NO_ENTITY, order }
  }
  if ('basket' in data) return { ...NO_ENTITY, basket: cartFacts(data.basket, at) }
  if ('checkout' in data) return { ...NO_ENTITY, checkout: cartFacts(data.checkout, at) }
  if ('subscription' in data) {
    const subscription = subscriptionFacts(data.subscription)
    return { ...NO_ENTITY, subscription, line: subscription.product }
  }
  if ('review' in data) {
    const review = reviewFacts(data.review)
    return { ...NO_ENTITY, review, line: review.product }
  }
  if ('product' in data) return { ...NO_ENTITY, line: productFacts(data.product) }
  return NO_ENTITY
}

/** What an event makes of an order; a change of status says so itself. */
const STATUS_AFTER: Readonly<Record<OrderEventType, OrderStatus | null>> = {
  'order.placed': 'placed',
  'order.paid': 'paid',
  'order.processing': 'preparing',
  'order.completed': 'closed',
  'order.fulfilled': 'fulfilled',
  'order.delivered': 'delivered',
  'order.cancelled': 'cancelled',
  'order.refunded': 'refunded',
  'order.payment_failed': 'payment_due',
  'order.status_changed': null,
}

/** The status an order has after an event about it. Throws RangeError for any other event. */
export function statusAfter(type: EventType, data: EventData): OrderStatus {
  const changedTo = statusChangeOf(type, data)?.to
  const status = changedTo ?? STATUS_AFTER[type as OrderEventType]
  if (!status) throw new RangeError(`${type} says nothing of an order’s status`)
  return status as OrderStatus
}

/** An order as events carry it, as facts. `placedAt` is when it was placed, as far as is known. */
export function orderFacts(order: OrderData, status: OrderStatus, placedAt: Instant): OrderFacts {
  return {
    id: order.id,
    number: order.number,
    status,
    currency: order.currency,
    totalMinor: order.totalMinor,
    placedAt,
    shippingCountry: order.shippingCountry ?? null,
    shippingRegion: order.shippingRegion ?? null,
    paymentMethod: order.paymentMethod ?? null,
    trackingUrl: order.trackingUrl ?? null,
    couponCodes: order.couponCodes ?? [],
    details: orderDetails(order),
    lines: order.lines.map((line) => lineFacts(line, order.currency)),
  }
}

/** What is only shown of an order; what is not known is left out. */
export function orderDetails({
  amounts,
  shippingAddress,
  billingAddress,
}: OrderDetails): OrderDetails {
  return {
    ...(amounts && { amounts }),
    ...(shippingAddress && { shippingAddress }),
    ...(billingAddress && { billingAddress }),
  }
}

/** A line as events and tables carry it, as facts. */
export function lineFacts(line: OrderLineData, currency: string): LineFacts {
  return {
    productId: line.productId,
    title: line.title,
    category: line.category ?? null,
    tags: line.tags ?? [],
    quantity: line.quantity,
    unitPriceMinor: line.unitPriceMinor,
    currency,
    startsAt: instantOrNull(line.startsAt),
    reorder: null,
    ...(line.variant && { variant: line.variant }),
    ...(line.url && { url: line.url }),
    ...(line.imageUrl && { imageUrl: line.imageUrl }),
  }
}

/** A basket or checkout as facts. */
export function cartFacts(cart: CartData, startedAt: Instant): CartFacts {
  return {
    id: cart.id,
    currency: cart.currency,
    totalMinor: cart.totalMinor,
    url: cart.url ?? null,
    startedAt,
    lines: cart.lines.map((line) => lineFacts(line, cart.currency)),
  }
}

/** A subscription as facts. */
export function subscriptionFacts(subscription: SubscriptionData): SubscriptionFacts {
  return {
    id: subscription.id,
    status: subscription.status,
    product: {
      ...productFacts(subscription),
      unitPriceMinor: subscription.amountMinor,
      currency: subscription.currency,
    },
    interval: subscription.interval,
    automatic: subscription.automatic ?? null,
    paymentMethod: subscription.paymentMethod ?? null,
    startedAt: instantOrNull(subscription.startedAt),
    nextPaymentAt: instantOrNull(subscription.nextPaymentAt),
    endsAt: instantOrNull(subscription.endsAt),
    trialEndsAt: instantOrNull(subscription.trialEndsAt),
    url: subscription.url ?? null,
  }
}

/** A review as facts. */
export function reviewFacts(review: ReviewData): ReviewFacts {
  const { productId, title } = review
  return {
    id: review.id,
    stars: review.stars,
    text: review.text ?? null,
    orderId: review.orderId ?? null,
    product: productId ? productFacts({ ...review, productId, title: title ?? productId }) : null,
  }
}

function productFacts(product: {
  productId: string
  title: string
  category?: string | null | undefined
  tags?: string[] | null | undefined
}): LineFacts {
  return {
    productId: product.productId,
    title: product.title,
    category: product.category ?? null,
    tags: product.tags ?? [],
    quantity: 1,
    unitPriceMinor: null,
    currency: null,
    startsAt: null,
    reorder: null,
  }
}
