import type {
  CartData,
  CustomerData,
  OrderData,
  SubscriptionData,
} from '../core/events/entities.ts'
import type { EventType } from '../core/events/eventTypes.ts'
import { addDuration, DAY_MS, HOUR_MS, MINUTE_MS } from '../core/shared/duration.ts'
import { formatInstant, type Instant } from '../core/shared/time.ts'
import { demoEvent, type DemoEvent } from './demoEvent.ts'
import type { Random } from '../core/shared/seededRandom.ts'

const REVIEW_TEXTS: Readonly<Record<number, readonly string[]>> = {
  5: ['Does what it should, and will outlast me.', 'Exactly as described. My third one.'],
  4: ['Good, a little heavy.', 'Very good; the instructions could be longer.'],
  3: ['It is all right.', 'Fine for the price.'],
  2: ['The joints do not fit well.', 'Came late and a corner was chipped.'],
  1: ['Broken on arrival.', 'Not what the picture shows.'],
}

/** What follows a dispatch: the parcel arrives, and some write a review. */
export function afterDispatchLife(random: Random, orders: readonly DemoEvent[]): DemoEvent[] {
  return orders.flatMap(({ at, event }) => {
    if (event.type !== 'order.fulfilled' || !('order' in event.data)) return []
    const { order } = event.data
    const deliveredAt = at + random.between(20, 90) * HOUR_MS
    const life = [demoEvent('order.delivered', deliveredAt, order.id, { order })]
    if (random.chance(0.09)) life.push(reviewOf(random, order, deliveredAt))
    return life
  })
}

/** What somebody writes of an order, some days after it has come. */
export function reviewOf(random: Random, order: OrderData, deliveredAt: Instant): DemoEvent {
  const stars = random.weighted([5, 4, 3, 2, 1], (one) => [0, 4, 3, 8, 25, 60][one] ?? 1)
  const line = random.pick(order.lines)
  const review = {
    id: `r-${order.id}`,
    customerId: order.customerId,
    orderId: order.id,
    productId: line.productId,
    title: line.title,
    category: line.category,
    stars,
    text: random.chance(0.8) ? random.pick(REVIEW_TEXTS[stars] ?? []) : null,
  }
  const at = deliveredAt + random.between(2, 24) * DAY_MS + random.between(0, 600) * MINUTE_MS
  return demoEvent('review.submitted', at, review.id, { review })
}

/** What comes before most orders, and after some that never come: looks, baskets, checkouts. */
export function beforeOrdering(
  random: Random,
  orders: readonly DemoEvent[],
  people: readonly CustomerData[],
): DemoEvent[] {
  const placed = orders.filter(({ event }) => event.type === 'order.placed')
  return placed.flatMap(({ at, event }, index) => {
    if (!('order' in event.data)) return []
    const { order } = event.data
    // One in four visits like this one ends without an order, by somebody else, on another day.
    const lost = random.chance(0.28)
    const customerId = lost ? random.pick(people).id : order.customerId
    const cart = cartOf(order, index, customerId)
    const start = lost ? at + random.between(-3, 3) * DAY_MS - 5 * HOUR_MS : at
    const goesFar = !lost || random.chance(0.6)
    return [
      ...(random.chance(0.3) ? [viewOf(order, start - 9 * MINUTE_MS, customerId, index)] : []),
      demoEvent('basket.item_added', start - 6 * MINUTE_MS, `b-${index}`, {
        basket: { ...cart, id: `b-${index}`, url: `https://combwright.example/basket/${index}` },
      }),
      ...(goesFar
        ? [
            demoEvent('checkout.started', start - 3 * MINUTE_MS, `k-${index}`, {
              checkout: { ...cart, id: `k-${index}` },
            }),
          ]
        : []),
    ]
  })
}

function cartOf(order: OrderData, index: number, customerId: string): CartData {
  const { currency, totalMinor, lines } = order
  const url = `https://combwright.example/checkout/${index}`
  return { id: String(index), customerId, currency, totalMinor, lines, url }
}

function viewOf(order: OrderData, at: Instant, customerId: string, index: number): DemoEvent {
  const [line] = order.lines
  const product = {
    customerId,
    productId: line?.productId ?? '',
    title: line?.title ?? '',
    category: line?.category,
  }
  return demoEvent('product.viewed', at, `v-${index}`, { product })
}

interface Plan {
  productId: string
  title: string
  amountMinor: number
  interval: string
  every: string
  trial: boolean
}

const PLANS: readonly Plan[] = [
  { productId: 'feed-club', title: 'Feed Club', amountMinor: 1900, interval: 'month', every: 'P1M', trial: false },
  { productId: 'feed-club-q', title: 'Feed Club, quarterly', amountMinor: 5200, interval: 'quarter', every: 'P3M', trial: false },
  { productId: 'hive-check', title: 'Hive Check', amountMinor: 8900, interval: 'year', every: 'P1Y', trial: true },
] // prettier-ignore

/** The lives of some hundred subscriptions: begun, renewed, on hold, cancelled, expired. */
export function subscriptionLives(
  random: Random,
  people: readonly CustomerData[],
  { from, to }: { from: Instant; to: Instant },
): DemoEvent[] {
  return Array.from({ length: 420 }, (_, index) => {
    const plan = random.weighted(PLANS, ({ interval }) => (interval === 'month' ? 6 : 2))
    const begins = from + Math.floor(random.next() * (to - from - DAY_MS))
    return oneSubscription(random, plan, { begins, to, index, person: random.pick(people) })
  }).flat()
}

interface Life {
  begins: Instant
  to: Instant
  index: number
  person: CustomerData
}

function oneSubscription(
  random: Random,
  plan: Plan,
  { begins, to, index, person }: Life,
): DemoEvent[] {
  const id = `s-${String(index + 1).padStart(4, '0')}`
  const automatic = random.chance(0.78)
  const trialEnds = plan.trial ? begins + 30 * DAY_MS : null
  const about = (status: SubscriptionData['status'], next: Instant | null) => ({
    subscription: {
      id,
      customerId: person.id,
      status,
      productId: plan.productId,
      title: plan.title,
      amountMinor: plan.amountMinor,
      currency: 'EUR',
      interval: plan.interval,
      automatic,
      paymentMethod: automatic ? 'card' : 'bank transfer',
      startedAt: formatInstant(begins),
      nextPaymentAt: next === null ? null : formatInstant(next),
      trialEndsAt: trialEnds === null ? null : formatInstant(trialEnds),
      url: `https://combwright.example/account/${id}`,
    },
  })
  const events: DemoEvent[] = []
  const add = (type: EventType, at: Instant, data: DemoEvent['event']['data']) =>
    events.push(demoEvent(type, at, `${id}.${events.length}`, data))
  let next = trialEnds ?? addDuration(begins, plan.every, 'Europe/Lisbon')
  add('subscription.created', begins, about(plan.trial ? 'trial' : 'running', next))
  if (trialEnds !== null && trialEnds < to) {
    next = addDuration(trialEnds, 'P7D', 'Europe/Lisbon')
    add('subscription.trial_ended', trialEnds, about('running', next))
  }
  for (let due = next; due < to; due = next) {
    if (random.chance(0.04)) {
      add('subscription.payment_failed', due, about('running', due))
      if (random.chance(0.5)) {
        const held = due + 3 * DAY_MS
        add('subscription.status_changed', held, { ...about('paused', null), from: 'running' })
        add('subscription.status_changed', held + 20 * DAY_MS, {
          ...about('ended', null),
          from: 'paused',
        })
        return events
      }
    }
    if (random.chance(0.05)) {
      add('subscription.status_changed', due - DAY_MS, {
        ...about('cancelled', null),
        from: 'running',
      })
      return events
    }
    next = addDuration(due, plan.every, 'Europe/Lisbon')
    add('subscription.renewed', due + 2 * HOUR_MS, about('running', next))
  }
  return events
}

/** A few change their mind about marketing, either way. */
export function changesOfMind(
  random: Random,
  people: readonly CustomerData[],
  { from, to }: { from: Instant; to: Instant },
): DemoEvent[] {
  return people
    .filter(() => random.chance(0.03))
    .map(({ id }, index) => {
      const at = from + Math.floor(random.next() * (to - from))
      const channel = random.chance(0.8) ? ('email' as const) : ('sms' as const)
      const consent = { customerId: id, channel, given: random.chance(0.45) }
      return demoEvent('consent.changed', at, `${id}.${index}`, { consent })
    })
}
