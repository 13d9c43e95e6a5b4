import fc from 'fast-check'
import type { OrderData } from '../../core/events/entities.ts'
import type { MessageCap, ShopFacts } from '../../core/events/facts.ts'
import type { EventType } from '../../core/events/eventTypes.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import { formatInstant, type Instant } from '../../core/shared/time.ts'
import { aCustomer, anOrder, aReview, START } from '../builders.ts'

/** Something that happens to the one customer of a model, as an event carries it. */
export interface Happening {
  type: EventType
  /** When it happened. */
  at: Instant
  /** When it comes in: then, or later. */
  arrivesAt: Instant
  /** Which of the three orders, for events about one. */
  order: 'o1' | 'o2' | 'o3'
  stars: number
}

const line = (title: string, category: string, startsAt: string | null = null) => ({
  productId: title,
  title,
  category,
  quantity: 1,
  unitPriceMinor: 1000,
  startsAt,
})

/** Three orders that differ in what the conditions ask about. */
export const ORDERS: Readonly<Record<Happening['order'], OrderData>> = {
  o1: anOrder({
    id: 'o1',
    number: '1',
    lines: [line('Brush', 'Tools & smokers'), line('Calendar', 'Books')],
  }),
  o2: anOrder({
    id: 'o2',
    number: '2',
    totalMinor: 9900,
    lines: [line('Hive', 'Hives & frames'), line('First day', 'Classes', '2026-05-09T09:00:00Z')],
  }),
  o3: anOrder({
    id: 'o3',
    number: '3',
    totalMinor: 1500,
    lines: [
      line('Swarm evening', 'Classes', formatInstant(START - DAY_MS)),
      line('Judging', 'Classes'),
    ],
  }),
}

/** A happening as a CloudEvent. */
export function toEvent({ type, at, order, stars }: Happening, index: number) {
  const data =
    type === 'review.submitted'
      ? { review: aReview({ id: `r${index}`, stars }) }
      : { order: ORDERS[order] }
  return {
    specversion: '1.0',
    id: `m${index}`,
    source: '/model',
    type,
    time: formatInstant(at),
    data: { ...data, customer: aCustomer({ zone: null, country: 'IE' }) },
  }
}

const HOUR_MS = 3_600_000

/** How late an event comes: mostly at once; else hours, days, or so late that it starts nothing. */
const delays = fc.oneof(
  { weight: 4, arbitrary: fc.constant(0) },
  { weight: 1, arbitrary: fc.constantFrom(2 * HOUR_MS, DAY_MS, 5 * DAY_MS, 8 * DAY_MS) },
)

/**
 * Happenings in the order in which they come in, which may be another than that of their times: whole
 * half hours apart from every moment that waits end at.
 */
export const happenings: fc.Arbitrary<Happening[]> = fc
  .uniqueArray(
    fc.record({
      type: fc.oneof(
        { weight: 3, arbitrary: fc.constant<EventType>('order.placed') },
        {
          weight: 3,
          arbitrary: fc.constantFrom<EventType>(
            'order.paid',
            'order.cancelled',
            'order.refunded',
            'review.submitted',
          ),
        },
      ),
      // Thirty minutes and a second past some hour of some day.
      at: fc
        .tuple(fc.integer({ min: 0, max: 50 }), fc.integer({ min: 0, max: 23 }))
        .map(([days, hours]) => START + days * DAY_MS + hours * HOUR_MS + 1_801_000),
      delay: delays,
      order: fc.constantFrom('o1' as const, 'o2' as const, 'o3' as const),
      stars: fc.constantFrom(1, 5),
    }),
    { minLength: 1, maxLength: 6, selector: ({ at }) => at },
  )
  .map((list) =>
    list
      .map(({ delay, ...one }) => ({ ...one, arrivesAt: one.at + delay }))
      .toSorted((a, b) => a.arrivesAt - b.arrivesAt),
  )

export type ModelShopRules = Pick<ShopFacts, 'messageGap' | 'caps' | 'quietHours' | 'holdout'>

/** Rules of the shop that hold for all workflows. */
export const shopRules: fc.Arbitrary<ModelShopRules> = fc.record({
  messageGap: fc.constantFrom(null, null, 'P2D'),
  caps: fc.oneof(
    { weight: 2, arbitrary: fc.constant<MessageCap[]>([]) },
    fc.array(
      fc.record({
        channel: fc.constantFrom('all' as const, 'email' as const, 'sms' as const),
        most: fc.constantFrom(1, 2, 3),
        days: fc.constantFrom(1, 3, 10),
      }),
      { minLength: 1, maxLength: 2 },
    ),
  ),
  quietHours: fc.constantFrom(null, null, { from: '21:00', to: '08:00' }),
  holdout: fc.oneof(
    { weight: 3, arbitrary: fc.constant(null) },
    fc.record({
      percent: fc.constantFrom(10, 50, 100),
      since: fc.nat(20).map((days) => START + days * DAY_MS),
    }),
  ),
})
