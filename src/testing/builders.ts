import type {
  CartData,
  CustomerData,
  OrderData,
  ReviewData,
  SubscriptionData,
} from '../core/events/entities.ts'
import type { EventType } from '../core/events/eventTypes.ts'
import type { Condition } from '../core/conditions/condition.ts'
import { formatInstant, parseInstant, type Instant } from '../core/shared/time.ts'
import type { Definition } from '../core/workflow/definition.ts'
import type { EmailStep, Step } from '../core/workflow/steps.ts'
import type { DateTrigger, EventTrigger } from '../core/workflow/trigger.ts'

/** The instant of an RFC 3339 text, for tests. Throws on a typing mistake. */
export function at(text: string): Instant {
  const instant = parseInstant(text)
  if (instant === null) throw new Error(`"${text}" is no instant`)
  return instant
}

/** The moment the tests' shop clock starts at. */
export const START = at('2026-04-14T09:20:00Z')

/** Seven days before the next payment, at nine. */
export const beforePayment = (over: Partial<DateTrigger> = {}): DateTrigger => ({
  kind: 'date',
  field: 'subscription.nextPaymentAt',
  direction: 'before',
  days: 7,
  at: '09:00',
  zone: 'recipient',
  ...over,
})

export function aCustomer(over: Partial<CustomerData> = {}): CustomerData {
  return {
    id: 'c1',
    email: 'ines@example.org',
    firstName: 'Ines',
    lastName: 'Duarte',
    zone: 'Europe/Lisbon',
    country: 'PT',
    language: 'pt-PT',
    emailConsent: true,
    ...over,
  }
}

export function anOrder(over: Partial<OrderData> = {}): OrderData {
  return {
    id: 'o1',
    number: '1001',
    customerId: 'c1',
    currency: 'EUR',
    totalMinor: 4200,
    lines: [
      {
        productId: 'p1',
        title: 'Bee brush',
        category: 'Tools & smokers',
        quantity: 2,
        unitPriceMinor: 2100,
      },
    ],
    ...over,
  }
}

export function aCart(over: Partial<CartData> = {}): CartData {
  const { lines, currency, totalMinor } = anOrder()
  return { id: 'k1', customerId: 'c1', currency, totalMinor, lines, ...over }
}

export function aSubscription(over: Partial<SubscriptionData> = {}): SubscriptionData {
  return {
    id: 's1',
    customerId: 'c1',
    status: 'running',
    productId: 'feed-club',
    title: 'Feed Club',
    amountMinor: 1900,
    currency: 'EUR',
    interval: 'month',
    automatic: true,
    paymentMethod: 'card',
    ...over,
  }
}

export function aReview(over: Partial<ReviewData> = {}): ReviewData {
  return { id: 'r1', customerId: 'c1', stars: 5, ...over }
}

let eventCount = 0

/** A CloudEvent of any type, as a sender would post it. */
export function eventOf<Data extends object>(type: EventType, time: Instant, data: Data) {
  eventCount += 1
  return {
    specversion: '1.0',
    id: `e${eventCount}`,
    source: '/tests',
    type,
    time: formatInstant(time),
    data,
  }
}

/** A CloudEvent about an order, as a sender would post it. */
export function orderEvent(
  type: EventType,
  time: Instant,
  order: Partial<OrderData> = {},
  customer: Partial<CustomerData> | null = {},
) {
  const data = anOrder(order)
  return eventOf(type, time, {
    order: data,
    ...(customer && { customer: aCustomer({ id: data.customerId, ...customer }) }),
  })
}

export function anEmail(key: string, over: Partial<EmailStep> = {}): EmailStep {
  return {
    key,
    kind: 'email',
    name: key,
    purpose: 'transactional',
    format: 'plain',
    sender: { name: 'Maren', address: 'maren@combwright.example' },
    subject: `About {{ order.number }}`,
    previewText: '',
    body: 'Hello {{ customer.first_name | default: "there" }}',
    ...over,
  }
}

export const wait = (key: string, duration: string): Step => ({ key, kind: 'wait', for: duration })
export const end = (key: string): Step => ({ key, kind: 'end' })

/** A trigger on events of a type. */
export const on = (event: EventType, over: Partial<EventTrigger> = {}): EventTrigger => ({
  kind: 'event',
  event,
  ...over,
})

/** "This order was … since entry." */
export function happened(event: EventType): Condition {
  return {
    kind: 'history',
    event,
    about: 'subject',
    count: { op: 'atLeast', times: 1 },
    window: { kind: 'sinceEntry' },
  }
}

/** "The customer's nth order." */
export function ordersEver(times: number): Condition {
  return {
    kind: 'history',
    event: 'order.placed',
    about: 'customer',
    count: { op: 'exactly', times },
    window: { kind: 'ever' },
  }
}

export function aDefinition(over: Partial<Definition> = {}): Definition {
  return {
    format: 'yomble.workflow',
    formatVersion: 1,
    name: 'Test workflow',
    description: '',
    priority: 50,
    trigger: on('order.placed'),
    entry: { rule: { kind: 'every' }, overlap: 'allow' },
    exclusions: [],
    steps: [anEmail('mail')],
    ...over,
  }
}

/** The thank-you workflow: first order one mail, second another, later ones none. */
export function thanksDefinition(): Definition {
  return aDefinition({
    name: 'Personal thanks',
    exclusions: [
      { key: 'cancelled', when: happened('order.cancelled'), effect: 'leave' },
      { key: 'refunded', when: happened('order.refunded'), effect: 'leave' },
    ],
    steps: [
      {
        key: 'split',
        kind: 'split',
        branches: [
          {
            key: 'first',
            name: 'First order',
            when: ordersEver(1),
            steps: [
              wait('w1', 'PT20M'),
              anEmail('thanks1', { subject: 'First: {{ order.number }}' }),
            ],
          },
          {
            key: 'second',
            name: 'Second order',
            when: ordersEver(2),
            steps: [
              wait('w2', 'PT20M'),
              anEmail('thanks2', { subject: 'Second: {{ order.number }}' }),
            ],
          },
        ],
        otherwise: [end('stop')],
      },
    ],
  })
}
