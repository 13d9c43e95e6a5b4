import type { CustomerData } from '../core/events/entities.ts'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../core/shared/duration.ts'
import type { Random } from '../core/shared/seededRandom.ts'
import type { Instant } from '../core/shared/time.ts'
import { PRODUCTS } from './catalogue.ts'

/**
 * What some people of the demo buy again and again, each at a rhythm of their own. Told in docs/demo.md; the days that
 * the shop reckons can be held against it.
 */
export const RHYTHM = {
  product: 'Smoker pellets, 2 kg',
  people: 140,
  /** The middle of people's rhythms, in days. */
  days: 44,
  /** Standard deviations of the logarithms: of people from each other, and of one's gaps from their rhythm. */
  between: 0.35,
  within: 0.18,
} as const

/** Somebody buys what they buy again and again. */
export interface RhythmicVisit {
  person: CustomerData
  at: Instant
}

/** The days on which they do, in a year, in order of time. */
export function rhythmicVisits(
  random: Random,
  people: readonly CustomerData[],
  { from, to }: { from: Instant; to: Instant },
): RhythmicVisit[] {
  const apart = Math.floor(people.length / (RHYTHM.people + 1))
  return Array.from({ length: RHYTHM.people }, (_, index) => {
    const person = people[(index + 1) * apart] ?? random.pick(people)
    const middle = Math.log(RHYTHM.days) + RHYTHM.between * normal(random)
    const visits: RhythmicVisit[] = []
    let day = from + random.next() * Math.exp(middle) * DAY_MS
    while (day < to) {
      const at = Math.floor(day / DAY_MS) * DAY_MS + random.between(7, 20) * HOUR_MS
      visits.push({ person, at: at + random.between(0, 59) * MINUTE_MS })
      day += Math.exp(middle + RHYTHM.within * normal(random)) * DAY_MS
    }
    return visits
  })
    .flat()
    .filter(({ at }) => at < to)
    .toSorted((a, b) => a.at - b.at)
}

/** One of a standard normal distribution: Box, Muller, Annals of Mathematical Statistics 29 (1958) 610-611. */
const normal = (random: Random): number =>
  Math.sqrt(-2 * Math.log(1 - random.next())) * Math.cos(2 * Math.PI * random.next())

/** What such an order is of. Throws when the shop does not have it. */
export function rhythmicLines() {
  const product = PRODUCTS.find(({ title }) => title === RHYTHM.product)
  if (!product) throw new Error(`The shop has no “${RHYTHM.product}”`)
  const { id, title, category, priceMinor } = product
  const line = { productId: id, title, category, quantity: 1, unitPriceMinor: priceMinor }
  return { lines: [line], totalMinor: priceMinor }
}
