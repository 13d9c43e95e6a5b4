import { chiSquareTail } from './normal.ts'

/** Below this the people were not parted as they should have been: common practice. */
export const RATIO_ALARM = 0.001

/**
 * How likely counts at least this far from their weights are, if chance alone parted people: Pearson's χ²
 * test. Null where there is nobody. Throws RangeError for less than two arms, or one without weight that
 * has people.
 */
export function sampleRatio(
  arms: readonly { people: number; weight: number }[],
): { chiSquare: number; p: number } | null {
  const people = arms.reduce((sum, one) => sum + one.people, 0)
  const weight = arms.reduce((sum, one) => sum + one.weight, 0)
  const taken = arms.filter((arm) => arm.weight > 0)
  if (taken.length < 2) throw new RangeError('There is nothing to part people between')
  if (arms.some((arm) => arm.weight === 0 && arm.people > 0)) {
    throw new RangeError('An arm without weight has people')
  }
  if (people === 0) return null
  const chiSquare = taken.reduce((sum, arm) => {
    const expected = (people * arm.weight) / weight
    return sum + (arm.people - expected) ** 2 / expected
  }, 0)
  return { chiSquare, p: chiSquareTail(chiSquare, taken.length - 1) }
}
