import { normalQuantile } from '../statistics/normal.ts'
import { peoplePerArm } from '../statistics/planning.ts'
import { USUAL_LEVEL, USUAL_POWER, type TestPlan } from '../workflow/testPlan.ts'

/** What is known beforehand of what is measured. */
export interface Baseline {
  /** The share that does it anyway; of revenue, the mean per person in minor units. */
  mean: number
  /** Of single people; of a share, share × (1 − share). */
  variance: number
}

/**
 * How many people a test needs in all, so that each arm can be told from the first. Unequal arms need more:
 * what counts is the sum of the reciprocal weights. Several comparisons share the level among them. Null
 * where the rate cannot change by so much. Rates by `peoplePerArm` (Fleiss); means by the normal
 * approximation, n = 2 σ² (z₁₋α/₂ + z_power)² / δ² an arm: common practice.
 */
export function peopleNeeded(
  plan: TestPlan,
  baseline: Baseline,
  weights: readonly number[],
): number | null {
  const [first = 0, ...others] = weights.filter((weight) => weight > 0)
  if (others.length === 0) return null
  const { measure, least, power = USUAL_POWER, level = USUAL_LEVEL } = plan
  const alpha = level / others.length
  const perArm =
    measure === 'revenue'
      ? forMeans(baseline.variance, least, { power, alpha })
      : forShares(baseline.mean, least, { power, alpha })
  if (perArm === null) return null
  const all = first + others.reduce((sum, weight) => sum + weight, 0)
  const needed = others.map((weight) => (perArm / 2) * (all / first + all / weight))
  return Math.ceil(Math.max(...needed))
}

interface Errors {
  power: number
  alpha: number
}

function forShares(share: number, least: number, errors: Errors): number | null {
  const other = share + least <= 1 ? share + least : share - least
  return other < 0 || other === share ? null : peoplePerArm(share, other, errors)
}

function forMeans(variance: number, least: number, { power, alpha }: Errors): number {
  const z = normalQuantile(1 - alpha / 2) + normalQuantile(power)
  return Math.max(2, Math.ceil((2 * variance * z ** 2) / least ** 2))
}

/** The least difference that so many people would show, by the same formulas; null where none would. */
export function leastSeen(
  plan: TestPlan,
  baseline: Baseline,
  weights: readonly number[],
  people: number,
): number | null {
  const isEnough = (least: number): boolean => {
    const needed = peopleNeeded({ ...plan, least }, baseline, weights)
    return needed !== null && needed <= people
  }
  let [low, high] = [0, plan.measure === 'revenue' ? Math.sqrt(baseline.variance) * 10 : Math.max(baseline.mean, 1 - baseline.mean)] // prettier-ignore
  if (!(high > 0) || !isEnough(high)) return null
  for (let step = 0; step < 40; step += 1) {
    const middle = (low + high) / 2
    if (isEnough(middle)) high = middle
    else low = middle
  }
  return high
}
