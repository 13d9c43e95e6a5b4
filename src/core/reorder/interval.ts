import { grouped } from '../shared/grouped.ts'
import { shareBy, survivalCurve, timeUntilShare, timeUntilShareInterval } from '../statistics/survival.ts' // prettier-ignore
import { WATCHED_DAYS, type Gaps, type GapSums } from './purchases.ts'

/** After how many days a product, or the products of a category, are bought again. */
export interface ReorderInterval {
  /** By then half of the purchases that are followed by another within a year have been. */
  days: number
  /** Between which days that half most likely lies (95 %). */
  low: number
  high: number
  /** Four in five of those who buy it again do so between these. */
  soon: number
  late: number
  /** The share of purchases that are followed by another within a year, and where it most likely lies. */
  again: { share: number; low: number; high: number }
  /** What it rests on. */
  purchases: number
  repeats: number
  /** How much the logarithms of gaps vary: of one person's among themselves, and of people's among each other. */
  variation: { within: number; between: number } | null
}

/** With fewer repeats than this an interval says nothing that could be acted on. */
export const LEAST_REPEATS = 20

/** So many gaps beyond each person's first must be known before people's own rhythm is told from chance. */
const LEAST_SECOND_GAPS = 10

/**
 * The interval that gaps tell of; null where too few have come. Purchases that were not followed by another are
 * watched for as long as they could be (Kaplan–Meier), so that the long gaps still under way are not left out. It is the half
 * of those who buy it again, not of all who bought it: the question is when to ask, and who never comes back has no day.
 */
export function reorderInterval(
  gaps: readonly Omit<Gaps, 'productId' | 'category'>[],
  sums: readonly Omit<GapSums, 'productId' | 'category'>[],
): ReorderInterval | null {
  const repeats = total(gaps.filter(({ came }) => came))
  if (repeats < LEAST_REPEATS) return null
  const curve = survivalCurve(gaps.map(({ days, came, count }) => ({ time: days, came, count })))
  const last = curve.at(-1)
  if (!last) return null
  const again = shareBy(last)
  const until = (share: number): number =>
    timeUntilShare(curve, share * again.share) ?? WATCHED_DAYS
  const half = timeUntilShareInterval(curve, again.share / 2)
  return {
    days: until(0.5),
    low: half.low ?? 1,
    high: half.high ?? WATCHED_DAYS,
    soon: until(0.1),
    late: until(0.9),
    again,
    purchases: total(gaps),
    repeats,
    variation: variationOf(sums),
  }
}

const total = (gaps: readonly { count: number }[]): number =>
  gaps.reduce((sum, { count }) => sum + count, 0)

/**
 * The parts of variance of gaps' logarithms, within people and between them: the estimator from the analysis of variance for
 * groups of unequal size. Searle, Casella, McCulloch, Variance Components (1992), section 3.6, from memory.
 */
export function variationOf(
  all: readonly Omit<GapSums, 'productId' | 'category'>[],
): ReorderInterval['variation'] {
  const plus = (pick: (one: (typeof all)[number]) => number): number =>
    all.reduce((sum, one) => sum + pick(one), 0)
  const people = plus((one) => one.people)
  const gaps = plus((one) => one.gaps)
  const freedom = gaps - people
  if (freedom < LEAST_SECOND_GAPS || people < 3) return null
  const within = plus((one) => one.within) / freedom
  // Products of a category differ in their means; that is not a difference between people.
  const between = plus((one) => one.between - one.sum ** 2 / one.gaps)
  const groups = people - all.length
  const size = gaps - plus((one) => one.squares / one.gaps)
  if (groups < 2 || size <= 0) return null
  return { within, between: Math.max(0, (between - groups * within) / size) }
}

/** The intervals of a shop: of each product that has enough of its own, and of each category for the others. */
export interface ReorderIntervals {
  products: ReadonlyMap<string, ReorderInterval>
  categories: ReadonlyMap<string, ReorderInterval>
}

export const NO_INTERVALS: ReorderIntervals = { products: new Map(), categories: new Map() }

/** The intervals that a shop's gaps tell of. A category pools the gaps of its products, each from one purchase of a product to the next of the same. */
export function reorderIntervals(
  gaps: readonly Gaps[],
  sums: readonly GapSums[],
): ReorderIntervals {
  return {
    products: intervalsBy(gaps, sums, ({ productId }) => productId),
    categories: intervalsBy(gaps, sums, ({ category }) => category),
  }
}

function intervalsBy(
  gaps: readonly Gaps[],
  sums: readonly GapSums[],
  keyOf: (one: { productId: string; category: string | null }) => string | null,
): Map<string, ReorderInterval> {
  const ownSums = grouped(sums, keyOf)
  return new Map(
    [...grouped(gaps, keyOf)].flatMap(([key, own]) => {
      const interval = key === null ? null : reorderInterval(own, ownSums.get(key) ?? [])
      return key !== null && interval ? [[key, interval] as const] : []
    }),
  )
}
