import { quantileOf } from './rates.ts'

/** How long somebody was watched, and whether what is waited for came then; if not, it had not come yet. */
export interface Watched {
  time: number
  came: boolean
  /** So many were watched alike; one where it is left out. */
  count?: number
}

/** The share that is still without it after a time, with its standard error. */
export interface Step {
  time: number
  atRisk: number
  came: number
  still: number
  /** Greenwood's. */
  error: number
}

/**
 * How many are still without something as time goes by, though many are not watched to the end:
 * Kaplan–Meier, a step for each time at which it came for somebody. Who was last seen at a time counts as
 * still waiting at it. Kaplan, Meier, Journal of the American Statistical Association 53 (1958) 457-481.
 */
export function survivalCurve(watched: readonly Watched[]): Step[] {
  const sorted = watched.toSorted((a, b) => a.time - b.time)
  const curve: Step[] = []
  let [still, greenwood] = [1, 0]
  let left = sorted.reduce((sum, { count = 1 }) => sum + count, 0)
  for (let from = 0; from < sorted.length;) {
    const { time } = sorted[from] as Watched
    const atRisk = left
    let came = 0
    for (; from < sorted.length && sorted[from]?.time === time; from += 1) {
      const { count = 1, came: hasCome } = sorted[from] as Watched
      left -= count
      if (hasCome) came += count
    }
    if (came === 0) continue
    still *= 1 - came / atRisk
    if (atRisk > came) greenwood += came / (atRisk * (atRisk - came))
    curve.push({ time, atRisk, came, still, error: still * Math.sqrt(greenwood) })
  }
  return curve
}

/** The share that has it by a step, with where it most likely is (95 %, normal, cut to what a share can be). */
export function shareBy({ still, error }: Step): { share: number; low: number; high: number } {
  const half = quantileOf(0.95) * error
  const share = 1 - still
  return { share, low: Math.max(0, share - half), high: Math.min(1, share + half) }
}

/**
 * When so large a share has it, and between which times most likely: where the ends of the interval of the curve
 * pass that share. Null for what is not reached. Brookmeyer, Crowley, Biometrics 38 (1982) 29-41, with the plain interval.
 */
export function timeUntilShareInterval(
  curve: readonly Step[],
  share: number,
): { time: number | null; low: number | null; high: number | null } {
  const first = (end: 'low' | 'high') =>
    curve.find((step) => shareBy(step)[end] >= share - 1e-12)?.time ?? null
  return { time: timeUntilShare(curve, share), low: first('high'), high: first('low') }
}

/** When so large a share has it: the first step at or below the rest. Null where it is not reached. */
export function timeUntilShare(curve: readonly Step[], share = 0.5): number | null {
  // A hair's breadth for what products of fractions leave.
  return curve.find(({ still }) => still <= 1 - share + 1e-12)?.time ?? null
}
