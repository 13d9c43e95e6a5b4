import type { EventData } from '../events/cloudEvent.ts'
import type {
  CustomerData,
  OrderData,
  OrderLineData,
  SubscriptionData,
} from '../events/entities.ts'
import { orderStatus, subscriptionStatus } from '../events/entities.ts'
import { entityOf, type EventType } from '../events/eventTypes.ts'
import type { ToldEvent } from '../life/lived.ts'
import { DAY_MS, MINUTE_MS } from '../shared/duration.ts'
import { formatInstant, parseInstant, type Instant } from '../shared/time.ts'
import type { Definition } from '../workflow/definition.ts'
import { allSteps } from '../workflow/lists.ts'
import type { Trigger } from '../workflow/trigger.ts'
import type { Happening, HappeningKind, Subject } from '../workflow/rehearsalSubject.ts'

const WHO = 'rehearsed'
/** What they are in the workflow with. */
export const SUBJECT = 'rehearsed-1'

/** When a rehearsal begins. Throws RangeError for a time that is none. */
export function beginningOf({ at }: Subject): Instant {
  const beginning = parseInstant(at)
  if (beginning === null) throw new RangeError(`${at} is no time`)
  return beginning
}

/**
 * All that is told of somebody made up: who they are, what they did before, what starts the workflow, and what happens
 * in between. `known` is over before it begins.
 */
export function eventsOf(
  subject: Subject,
  definition: Pick<Definition, 'trigger' | 'steps'>,
  currency: string,
): { known: ToldEvent[]; coming: ToldEvent[] } {
  const beginning = beginningOf(subject)
  const made = { ...subject, ...datesFor(subject, definition, beginning), currency }
  const customer = customerOf(subject)
  const told = (type: EventType, at: Instant, id: string, data: EventData): ToldEvent => ({ at, event: { id, type, data } }) // prettier-ignore
  const known = subject.earlier.flatMap(({ daysBefore, lines }, index) => {
    const at = beginning - Math.max(1, Math.round(daysBefore * DAY_MS))
    const order = orderOf(`earlier-${index}`, lines, made)
    return (['order.placed', 'order.paid', 'order.fulfilled', 'order.delivered'] as const).map(
      (type, place) =>
        told(type, Math.min(at + place, beginning - 1), `${order.id}.${type}`, { order }),
    )
  })
  const firstAt = Math.min(beginning - 1, ...known.map(({ at }) => at)) - 1
  const first = told('customer.created', firstAt, 'who', { customer })
  const start = startOf(made, definition.trigger, beginning)
  const between = subject.between.map((one) => {
    const at = beginning + Math.round(one.afterMinutes * MINUTE_MS)
    const { type, data } = TELLS[one.what](made, one, beginning)
    return told(type, at, one.key, data)
  })
  return {
    known: [first, ...known.toSorted((a, b) => a.at - b.at)],
    coming: [
      ...start.map(({ type, data }, index) => told(type, beginning, `start-${index}`, data)),
      ...between.toSorted((a, b) => a.at - b.at),
    ],
  }
}

function customerOf({ customer }: Pick<Subject, 'customer'>): CustomerData {
  const { firstName, country, zone, emailConsent, smsConsent, hasEmail, hasPhone, tags } = customer
  return {
    id: WHO,
    email: hasEmail === false ? null : `${WHO}@example.org`,
    firstName,
    country,
    zone,
    emailConsent,
    smsConsent,
    phone: hasPhone ? '+353850000000' : null,
    tags,
  }
}

const totalOf = (lines: readonly OrderLineData[]): number =>
  lines.reduce((sum, { quantity, unitPriceMinor }) => sum + quantity * unitPriceMinor, 0)

function orderOf(id: string, lines: OrderLineData[], { customer, currency }: Made): OrderData {
  const number = id.replace(/^\D+/, '') || '1'
  return { id, number, customerId: WHO, currency, totalMinor: totalOf(lines), shippingCountry: customer.country, lines } // prettier-ignore
}

const cartOf = ({ lines, currency }: Made) => ({
  id: SUBJECT,
  customerId: WHO,
  currency,
  totalMinor: totalOf(lines),
  lines,
})

function subscriptionOf(
  { lines, currency, subscriptionDates }: Made,
  startedAt: Instant,
  over: Partial<SubscriptionData> = {},
): SubscriptionData {
  const [line] = lines
  return {
    id: SUBJECT,
    customerId: WHO,
    status: 'running',
    productId: line?.productId ?? '',
    title: line?.title ?? '',
    category: line?.category ?? null,
    amountMinor: totalOf(lines),
    currency,
    interval: 'month',
    automatic: true,
    startedAt: formatInstant(startedAt),
    ...subscriptionDates,
    ...over,
  }
}

function viewOf({ lines }: Made) {
  const { productId, title, category } = lines[0] ?? { productId: '', title: '', category: null }
  return { customerId: WHO, productId, title, category }
}

function reviewOf({ lines, stars }: Made, id: string, over: { stars?: number | undefined } = {}) {
  // prettier-ignore
  const [line] = lines
  return {
    id,
    customerId: WHO,
    orderId: SUBJECT,
    productId: line?.productId ?? null,
    title: line?.title ?? null,
    category: line?.category ?? null,
    stars: over.stars ?? stars,
  }
}

/** A subject with all that its workflow needs to know of it. */
interface Made extends Omit<Subject, 'lines'> {
  lines: OrderLineData[]
  currency: string
  subscriptionDates: Partial<SubscriptionData>
}

interface Told {
  type: EventType
  data: EventData
}

/** What the workflow starts by: its event, or what makes its date known. An order that is paid was placed as well. */
function startOf(made: Made, trigger: Trigger, at: Instant): Told[] {
  const type = startType(trigger)
  if (type === null) return []
  const order = orderOf(SUBJECT, made.lines, made)
  switch (entityOf(type)) {
    case 'order': {
      const placed: Told = { type: 'order.placed', data: { order } }
      return type === 'order.placed' ? [placed] : [placed, { type, data: orderData(order, type, trigger) }] // prettier-ignore
    }
    case 'basket':
      return [{ type, data: { basket: cartOf(made) } }]
    case 'checkout':
      return [{ type, data: { checkout: cartOf(made) } }]
    case 'subscription':
      return startOfSubscription(made, type, trigger, at)
    case 'review':
      return [{ type, data: { review: reviewOf(made, SUBJECT) } }]
    case 'product':
      return [{ type, data: { product: viewOf(made) } }]
    case 'customer':
      return [{ type, data: { customer: customerOf(made) } }]
    case 'consent':
      return [says(true)]
    case 'message':
      return [{ type, data: { message: { customerId: WHO } } }]
  }
}

const orderData = (order: OrderData, type: EventType, trigger: Trigger) =>
  type === 'order.status_changed'
    ? { order, from: 'placed' as const, to: changedTo(trigger, orderStatus) ?? 'paid' }
    : { order }

/** A subscription whose status changes was there before. */
function startOfSubscription(made: Made, type: EventType, trigger: Trigger, at: Instant): Told[] {
  const created: Told = {
    type: 'subscription.created',
    data: { subscription: subscriptionOf(made, at) },
  }
  if (type === 'subscription.created') return [created]
  if (type !== 'subscription.status_changed') return [created, { type, data: created.data }]
  const status = changedTo(trigger, subscriptionStatus) ?? 'cancelled'
  const from = status === 'running' ? 'paused' : 'running'
  return [created, { type, data: { subscription: subscriptionOf(made, at, { status }), from } }]
}

/** The first status that a trigger asks for; undefined where any will do. */
function changedTo<Status>(
  trigger: Trigger,
  schema: { safeParse: (value: unknown) => { data?: Status | undefined } },
): Status | undefined {
  return trigger.kind === 'event' ? schema.safeParse(trigger.to?.[0]).data : undefined
}

/** Null for people who are put in by hand, with nothing to be known of. */
export function startType(trigger: Trigger): EventType | null {
  if (trigger.kind === 'event') return trigger.event
  if (trigger.kind === 'hand') return trigger.subject === 'order' ? 'order.placed' : null
  const { field } = trigger
  if (field === 'customer.lastOrderAt') return 'order.placed'
  return DATES_BY.find(([prefix]) => field.startsWith(prefix))?.[1] ?? 'customer.changed'
}

/** What makes the dates of a thing known. */
const DATES_BY: readonly (readonly [string, EventType])[] = [
  ['order.', 'order.placed'],
  ['line.', 'order.placed'],
  ['basket.', 'basket.item_added'],
  ['checkout.', 'checkout.started'],
  ['subscription.', 'subscription.created'],
]

/** The dates that the workflow goes by, given to what has them. */
function datesFor(
  { lines, dateInDays }: Subject,
  { trigger, steps }: Pick<Definition, 'trigger' | 'steps'>,
  beginning: Instant,
): Pick<Made, 'lines' | 'subscriptionDates'> {
  const asked = new Set([
    ...(trigger.kind === 'date' ? [trigger.field] : []),
    ...allSteps(steps).flatMap((step) => step.kind === 'until' && step.until.kind === 'field' ? [step.until.field] : []), // prettier-ignore
  ])
  const date = formatInstant(beginning + Math.round(dateInDays * DAY_MS))
  const isBooked = asked.has('line.startsAt') || asked.has('order.firstDate')
  return {
    lines: isBooked ? lines.map((line) => ({ ...line, startsAt: date })) : lines,
    subscriptionDates: {
      nextPaymentAt: date,
      ...(asked.has('subscription.endsAt') && { endsAt: date }),
      ...(asked.has('subscription.trialEndsAt') && { trialEndsAt: date, status: 'trial' as const }),
    },
  }
}

const says = (given: boolean): Told => ({
  type: 'consent.changed',
  data: { consent: { customerId: WHO, channel: 'email', given, how: 'rehearsed' } },
})

type Tells = (made: Made, happening: Happening, startedAt: Instant) => Told

const ofOrder = (type: EventType): Tells => (made) => ({ type, data: { order: orderOf(SUBJECT, made.lines, made) } }) // prettier-ignore
const ofMessage = (type: EventType): Tells => () => ({ type, data: { message: { customerId: WHO } } }) // prettier-ignore
const ofSubscription =
  (type: EventType, over: Partial<SubscriptionData> = {}): Tells =>
  (made, _happening, startedAt) => {
    const subscription = subscriptionOf(made, startedAt, over)
    return { type, data: over.status ? { subscription, from: 'running' } : { subscription } }
  }

/** What a shop would tell of each. */
const TELLS: Readonly<Record<HappeningKind, Tells>> = {
  paid: ofOrder('order.paid'),
  fulfilled: ofOrder('order.fulfilled'),
  delivered: ofOrder('order.delivered'),
  cancelled: ofOrder('order.cancelled'),
  refunded: ofOrder('order.refunded'),
  paymentFailed: ofOrder('order.payment_failed'),
  ordered: (made, { key }) => ({ type: 'order.placed', data: { order: orderOf(`again-${key}`, made.lines, made) } }), // prettier-ignore
  review: (made, { key, stars }) => ({ type: 'review.submitted', data: { review: reviewOf(made, `review-${key}`, { stars }) } }), // prettier-ignore
  opened: ofMessage('message.opened'),
  clicked: ofMessage('message.clicked'),
  unsubscribed: ofMessage('message.unsubscribed'),
  saysYes: () => says(true),
  saysNo: () => says(false),
  views: (made) => ({ type: 'product.viewed', data: { product: viewOf(made) } }),
  fillsBasket: (made, { key }) => ({ type: 'basket.item_added', data: { basket: { ...cartOf(made), id: `basket-${key}` } } }), // prettier-ignore
  startsCheckout: (made, { key }) => ({ type: 'checkout.started', data: { checkout: { ...cartOf(made), id: `checkout-${key}` } } }), // prettier-ignore
  subscribes: (made, { key }, startedAt) => ({ type: 'subscription.created', data: { subscription: subscriptionOf(made, startedAt, { id: `again-${key}` }) } }), // prettier-ignore
  renewed: ofSubscription('subscription.renewed'),
  renewalFailed: ofSubscription('subscription.payment_failed'),
  subscriptionPaused: ofSubscription('subscription.status_changed', { status: 'paused' }),
  subscriptionCancelled: ofSubscription('subscription.status_changed', { status: 'cancelled' }),
  subscriptionEnded: ofSubscription('subscription.status_changed', { status: 'ended' }),
}

/** The type of event by which a shop tells of it. */
export function typeOf(what: HappeningKind): EventType {
  return TELLS[what](NOBODY, { key: 'x', what, afterMinutes: 0, stars: 5 }, 0).type
}

const NOBODY: Made = {
  at: '1970-01-01T00:00:00Z',
  customer: { firstName: '', country: null, zone: null, emailConsent: null, smsConsent: null, hasPhone: false, tags: [] },
  earlier: [],
  lines: [],
  stars: 5,
  dateInDays: 0,
  between: [],
  currency: 'EUR',
  subscriptionDates: {},
} // prettier-ignore
