import type { ExpectedReorder } from '../events/reorder.ts'
import { addDuration, DAY_MS } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'
import { quantileOf } from '../statistics/rates.ts'
import { WATCHED_DAYS, type Purchase } from './purchases.ts'
import type { ReorderInterval, ReorderIntervals } from './interval.ts'

/** The gaps between purchases of one product by one person: those of less than a day are none. */
export function ownGaps(times: readonly Instant[]): number[] {
  return times.flatMap((at, index) => {
    const next = times[index + 1]
    const days = next === undefined ? 0 : Math.floor((next - at) / DAY_MS)
    return days < 1 || days > WATCHED_DAYS ? [] : [days]
  })
}

/**
 * After how many days somebody will buy a product again; null where nothing is known of it. Who has bought it at
 * least twice is expected at their own rhythm, drawn towards everybody's the more, the fewer gaps they have and the less people
 * differ: the best linear unbiased prediction on the logarithms of gaps. Robinson, Statistical Science 6 (1991) 15-32.
 */
export function expectedDays(
  { products, categories }: ReorderIntervals,
  { productId, category }: Pick<Purchase, 'productId' | 'category'>,
  gapsBefore: readonly number[],
): Omit<ExpectedReorder, 'at'> | null {
  const ofProduct = products.get(productId)
  const interval = ofProduct ?? (category === null ? undefined : categories.get(category))
  if (!interval) return null
  const { days, soon, late, again } = interval
  return {
    by: ofProduct ? 'product' : 'category',
    days,
    soon,
    late,
    again: Math.round(again.share * 100),
    ...ownRhythm(interval, gapsBefore),
    ownGaps: gapsBefore.length,
    ownDays: gapsBefore.length === 0 ? null : Math.round(Math.exp(meanLog(gapsBefore))),
  }
}

/** When somebody will buy a product again who has just bought it: so many calendar days later in the zone. */
export function expectReorder(
  intervals: ReorderIntervals,
  what: Pick<Purchase, 'productId' | 'category'>,
  { at, gapsBefore, zone }: { at: Instant; gapsBefore: readonly number[]; zone: string },
): ExpectedReorder | null {
  const expected = expectedDays(intervals, what, gapsBefore)
  return expected && { ...expected, at: addDuration(at, `P${expected.days}D`, zone) }
}

const meanLog = (gaps: readonly number[]): number =>
  gaps.reduce((sum, days) => sum + Math.log(days), 0) / gaps.length

const FOUR_IN_FIVE = quantileOf(0.8)

/** What their own gaps make of everybody's interval; null where they say nothing beyond it. */
function ownRhythm(
  { days, variation }: ReorderInterval,
  gaps: readonly number[],
): Pick<ExpectedReorder, 'by' | 'days' | 'soon' | 'late'> | null {
  if (gaps.length === 0 || variation === null || variation.between === 0) return null
  const { within, between } = variation
  const weight = (gaps.length * between) / (gaps.length * between + within)
  const middle = Math.log(days) + weight * (meanLog(gaps) - Math.log(days))
  const spread = FOUR_IN_FIVE * Math.sqrt(within + between * (1 - weight))
  const inDays = (log: number): number => Math.max(1, Math.round(Math.exp(log)))
  return {
    by: 'person',
    days: inDays(middle),
    soon: inDays(middle - spread),
    late: inDays(middle + spread),
  }
}
