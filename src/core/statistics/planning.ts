import { normalQuantile, normalShare } from './normal.ts'

interface Plan {
  /** How often the test is to see the difference, if there is one. */
  power?: number
  /** How often it may see one that there is not. */
  alpha?: number
}

/**
 * How many people each of two equal arms needs, so that a difference between two rates is seen, looked at once
 * at the end. Pooled normal approximation without correction, two-sided: Fleiss, Statistical Methods for
 * Rates and Proportions. Throws RangeError for rates that are the same, or not between 0 and 1.
 */
export function peoplePerArm(first: number, second: number, plan: Plan = {}): number {
  if (!(first >= 0 && first <= 1 && second >= 0 && second <= 1) || first === second) {
    throw new RangeError(`No number of people tells ${first} from ${second}`)
  }
  const { power = 0.8, alpha = 0.05 } = plan
  const pooled = (first + second) / 2
  const atChance = normalQuantile(1 - alpha / 2) * Math.sqrt(2 * pooled * (1 - pooled))
  const atDifference = normalQuantile(power) * spread(first, second)
  return Math.ceil(((atChance + atDifference) / (first - second)) ** 2)
}

/** How often two equal arms of so many people see a difference between two rates, by the same formula. */
export function powerOf(people: number, first: number, second: number, alpha = 0.05): number {
  const pooled = (first + second) / 2
  const atChance = normalQuantile(1 - alpha / 2) * Math.sqrt(2 * pooled * (1 - pooled))
  return normalShare(
    (Math.abs(first - second) * Math.sqrt(people) - atChance) / spread(first, second),
  )
}

const spread = (first: number, second: number): number =>
  Math.sqrt(first * (1 - first) + second * (1 - second))
