/** How long somebody was watched, and whether what is waited for came then; if not, it had not come yet. */
export interface Watched {
  time: number
  came: boolean
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
  const times = [...new Set(watched.flatMap(({ time, came }) => (came ? time : [])))]
  let still = 1
  let greenwood = 0
  return times
    .toSorted((a, b) => a - b)
    .map((time) => {
      const atRisk = watched.filter((one) => one.time >= time).length
      const came = watched.filter((one) => one.came && one.time === time).length
      still *= 1 - came / atRisk
      if (atRisk > came) greenwood += came / (atRisk * (atRisk - came))
      return { time, atRisk, came, still, error: still * Math.sqrt(greenwood) }
    })
}

/** When so large a share has it: the first step at or below the rest. Null where it is not reached. */
export function timeUntilShare(curve: readonly Step[], share = 0.5): number | null {
  // A hair's breadth for what products of fractions leave.
  return curve.find(({ still }) => still <= 1 - share + 1e-12)?.time ?? null
}
