import { normalQuantile } from './normal.ts'

/** So many of so many. */
export interface Count {
  of: number
  /** How many of them did it; never more than there are. */
  did: number
}

export interface Interval {
  low: number
  high: number
}

/** How often an interval is to hold the truth, unless something else is asked for. */
export const LEVEL = 0.95

/** The share that did it; null where there is nobody. Throws RangeError for a count that cannot be. */
export function rateOf(count: Count): number | null {
  mustBeCount(count)
  return count.of === 0 ? null : count.did / count.of
}

/**
 * In which a share most likely lies: Wilson's score interval without correction, which stays between 0
 * and 1 and means something for small counts, too. Null where there is nobody.
 * Wilson (1927); Newcombe, Statistics in Medicine 17 (1998) 857-872.
 */
export function rateInterval(count: Count, level = LEVEL): Interval | null {
  const rate = rateOf(count)
  if (rate === null) return null
  const z = quantileOf(level)
  const z2 = z * z
  const middle = (2 * count.did + z2) / (2 * (count.of + z2))
  const half = (z * Math.sqrt(z2 + 4 * count.did * (1 - rate))) / (2 * (count.of + z2))
  return { low: Math.max(0, middle - half), high: Math.min(1, middle + half) }
}

/**
 * In which the difference of two shares most likely lies, a − b: Newcombe's hybrid of two Wilson intervals.
 * Null where one of them has nobody. Newcombe, Statistics in Medicine 17 (1998) 873-890, method 10.
 */
export function differenceInterval(a: Count, b: Count, level = LEVEL): Interval | null {
  const [rateA, rateB] = [rateOf(a), rateOf(b)]
  const [inA, inB] = [rateInterval(a, level), rateInterval(b, level)]
  if (rateA === null || rateB === null || !inA || !inB) return null
  const difference = rateA - rateB
  return {
    low: difference - Math.hypot(rateA - inA.low, inB.high - rateB),
    high: difference + Math.hypot(inA.high - rateA, rateB - inB.low),
  }
}

/** How far from the middle so much of a normal distribution reaches to both sides: 1.96 for 0.95. */
export const quantileOf = (level: number): number => normalQuantile(1 - (1 - level) / 2)

function mustBeCount({ of, did }: Count): void {
  const isCount = Number.isInteger(of) && Number.isInteger(did) && did >= 0 && did <= of
  if (!isCount) throw new RangeError(`${did} of ${of} is no count`)
}
