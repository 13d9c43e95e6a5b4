import type { CustomerData, OrderData } from '../core/events/entities.ts'
import type { EventType } from '../core/events/eventTypes.ts'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../core/shared/duration.ts'
import { instantOf, localTime, type Instant } from '../core/shared/time.ts'
import { demand, MONTH_WEIGHT, PRODUCTS, type Product } from './catalogue.ts'
import { demoEvent, type DemoEvent } from './demoEvent.ts'
import { afterDispatchLife, beforeOrdering, changesOfMind, subscriptionLives } from './moreLife.ts'
import { makePeople } from './people.ts'
import { rhythmicLines, rhythmicVisits, type RhythmicVisit } from './rhythms.ts'
import { seededRandom, type Random } from '../core/shared/seededRandom.ts'

export const ZONE = 'Europe/Lisbon'

/** Tuesday 14 April 2026, 10:20 in Lisbon: where the demo's shop clock starts. */
export const DEMO_START = instantOf(
  { year: 2026, month: 4, day: 14, hour: 10, minute: 20, second: 0 },
  ZONE,
)

const PEOPLE = 4000
const ORDERS = 11_000
const DAYS = 365
const SEED = 20_260_414
/** Looks, baskets and checkouts of longer ago the shop has not kept: it handed in its orders when it began with Yomble. */
const VISITS_FROM = DEMO_START - 190 * DAY_MS
/** Beyond the numbers of all other orders. */
const AGAIN_FROM = 40_000

/** A year of the demo shop, up to `DEMO_START`: everybody in it and all that happened, by time. */
export function makeHistory(): DemoEvent[] {
  const random = seededRandom(SEED)
  const people = makePeople(random, PEOPLE)
  const days = dayWeights()
  const visits = Array.from({ length: ORDERS }, (_, index) => ({
    person: buyerOf(random, people, index),
    at: momentOn(random, random.weighted(days, ({ weight }) => weight).day),
  })).toSorted((a, b) => a.at - b.at)
  // One of the last orders comes from an address that does not exist.
  const late = visits.at(-40)
  const gone = people[3]
  if (late && gone) late.person = gone
  const orders = visits.flatMap(({ person, at }, index) => orderLife(random, person, at, index))
  // A stream of its own, so that the orders stay the same whatever is told around them.
  const around = seededRandom(SEED + 1)
  const year = { from: DEMO_START - DAYS * DAY_MS, to: DEMO_START }
  const again = rhythmicVisits(seededRandom(SEED + 2), people, year)
  const events = [
    ...orders,
    ...rhythmicOrders(again),
    ...arrivals(
      people,
      [...visits, ...again].toSorted((a, b) => a.at - b.at),
    ),
    ...afterDispatchLife(around, orders),
    ...beforeOrdering(around, orders, people).filter(({ at }) => at > VISITS_FROM),
    ...subscriptionLives(around, people, year),
    ...changesOfMind(around, people, year),
  ]
  return events.filter(({ at }) => at <= DEMO_START).toSorted((a, b) => a.at - b.at)
}

/** Small orders, after all the others in number: the others stay as they are. */
function rhythmicOrders(visits: readonly RhythmicVisit[]): DemoEvent[] {
  const random = seededRandom(SEED + 3)
  const { lines, totalMinor } = rhythmicLines()
  const amounts = { itemsMinor: totalMinor, shippingMinor: 0, taxMinor: taxIn(totalMinor) }
  return visits.flatMap(({ person, at }, index) =>
    orderLife(random, person, at, AGAIN_FROM + index, {
      lines,
      totalMinor,
      amounts,
      currency: 'EUR',
    }),
  )
}

function dayWeights(): { day: Instant; weight: number }[] {
  return Array.from({ length: DAYS }, (_, back) => {
    const day = DEMO_START - (back + 0.2) * DAY_MS
    const { month, weekday } = localTime(day, ZONE)
    return { day, weight: (MONTH_WEIGHT[month - 1] ?? 1) * (weekday >= 6 ? 1.25 : 0.95) }
  })
}

/** Some buy often, most once or twice; one person has forty orders. */
function buyerOf(random: Random, people: readonly CustomerData[], index: number): CustomerData {
  const KEEN = 7
  const OTHERS_FROM = 8
  if (index < 40) return people[KEEN] ?? random.pick(people)
  if (index % 1500 === 0) return people[index / 1500 - 1] ?? random.pick(people)
  const keenness = (0.03 + 0.97 * random.next()) ** 1.6
  const position = OTHERS_FROM + Math.floor(keenness * (people.length - OTHERS_FROM))
  return people[position] ?? random.pick(people)
}

function momentOn(random: Random, day: Instant): Instant {
  const { year, month, day: date } = localTime(day, ZONE)
  const hour =
    random.weighted([...Array(17).keys()], (one) => (one > 10 ? 3 : 1) + (one === 13 ? 2 : 0)) + 6
  const at = {
    year,
    month,
    day: date,
    hour,
    minute: random.between(0, 59),
    second: random.between(0, 59),
  }
  return instantOf(at, ZONE)
}

/** When each customer was first known: a little before the first order, or some day if there is none. */
function arrivals(
  people: readonly CustomerData[],
  visits: readonly { person: CustomerData; at: Instant }[],
): DemoEvent[] {
  const first = new Map<string, Instant>()
  for (const { person, at } of visits) if (!first.has(person.id)) first.set(person.id, at)
  return people.map((customer, index) => {
    const at = (first.get(customer.id) ?? DEMO_START - (index % DAYS) * DAY_MS) - 2 * MINUTE_MS
    return demoEvent('customer.created', at, customer.id, { customer })
  })
}

/** What happens to one order: paid and sent, mostly; failed, cancelled or refunded, sometimes. */
export function orderLife(
  random: Random,
  person: CustomerData,
  placedAt: Instant,
  index: number,
  given: Partial<OrderData> = {},
): DemoEvent[] {
  const order = { ...makeOrder(random, person, placedAt, index), ...given }
  const event = (type: EventType, at: Instant, over: Partial<OrderData> = {}) =>
    demoEvent(type, at, order.id, { order: { ...order, ...over } })
  const life = [event('order.placed', placedAt)]
  let at = placedAt + random.between(1, 4) * MINUTE_MS
  if (random.chance(0.03)) {
    life.push(event('order.payment_failed', at))
    at += random.between(20, 900) * MINUTE_MS
    if (random.chance(0.35)) return [...life, event('order.cancelled', at + DAY_MS)]
  }
  life.push(event('order.paid', at))
  if (random.chance(0.012))
    return [...life, event('order.cancelled', at + random.between(1, 20) * HOUR_MS)]
  const fulfilledAt = at + random.between(14, 60) * HOUR_MS
  const sent = { trackingUrl: `https://parcels.example/${order.number}` }
  life.push(event('order.fulfilled', fulfilledAt, sent))
  if (random.chance(0.04)) {
    life.push(event('order.refunded', fulfilledAt + random.between(2, 18) * DAY_MS, sent))
  }
  return life
}

/** Orders that are not in euro: the currency and how many of its units a euro buys. */
const OTHER_CURRENCIES = [
  { currency: 'CHF', rate: 0.95 },
  { currency: 'JPY', rate: 1.6 },
] as const

function makeOrder(random: Random, person: CustomerData, at: Instant, index: number): OrderData {
  const { month } = localTime(at, ZONE)
  const long = index === 5000
  const count = long
    ? 30
    : random.weighted([1, 2, 3, 4, 6], (lines) => [0, 46, 27, 14, 8, 0, 5][lines] ?? 0)
  const products = new Set<Product>()
  while (products.size < count)
    products.add(random.weighted(PRODUCTS, (product) => demand(product, month)))
  const abroad = index % 400 === 399 ? OTHER_CURRENCIES[Math.floor(index / 400) % 2] : undefined
  const lines = [...products].map(({ id, title, category, priceMinor, startsAt }) => ({
    productId: id,
    title,
    category,
    startsAt,
    quantity: random.weighted([1, 2, 3, 5], (quantity) => 6 / quantity ** 2),
    // Yen have no minor unit: 100 cents become about 160 yen, not 160 hundredths of one.
    unitPriceMinor: abroad ? Math.round(priceMinor * abroad.rate) : priceMinor,
  }))
  const totalMinor = lines.reduce((sum, line) => sum + line.quantity * line.unitPriceMinor, 0)
  return {
    id: `o-${String(index + 1).padStart(5, '0')}`,
    number: String(20_001 + index),
    customerId: person.id,
    currency: abroad?.currency ?? 'EUR',
    totalMinor,
    amounts: { itemsMinor: totalMinor, shippingMinor: 0, taxMinor: taxIn(totalMinor) },
    shippingAddress: addressOf(person, index),
    shippingCountry: person.country ?? null,
    paymentMethod: random.weighted(['card', 'bank transfer', 'wallet'], (way) => way.length),
    lines,
  }
}

/** The value-added tax in a price, at 23 %. */
const taxIn = (totalMinor: number): number => Math.round((totalMinor * 23) / 123)

const STREETS = [
  'Orchard Lane',
  'Mill Road',
  'Station Street',
  'Chapel Hill',
  'River Walk',
  'Linden Avenue',
]

/** Made up, like everything about them. */
function addressOf({ firstName, lastName, zone, country }: CustomerData, index: number) {
  const name = [firstName, lastName].filter(Boolean).join(' ')
  return {
    name: name || null,
    street: `${STREETS[index % STREETS.length]} ${(index % 97) + 1}`,
    city: zone?.split('/').at(-1)?.replaceAll('_', ' ') ?? null,
    country: country ?? null,
  }
}
