import { DAY_MS } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'
import { holmAdjusted } from '../statistics/holm.ts'
import { normalShare, normalQuantile } from '../statistics/normal.ts'
import { differenceInterval, type Interval } from '../statistics/rates.ts'
import { RATIO_ALARM, sampleRatio } from '../statistics/sampleRatio.ts'
import { alwaysValidInterval } from '../statistics/sequence.ts'
import { peopleNeeded, type Baseline } from './needed.ts'
import { isBetterLow, USUAL_LEVEL, type TestPlan } from '../workflow/testPlan.ts'

/** What is known of one arm. Everybody counts from their draw, in a window of the same length. */
export interface ArmCount {
  key: string
  weight: number
  holdout: boolean
  /** Everybody drawn, those too whose window is not over. */
  drawn: number
  /** Whose window is over. */
  people: number
  /** How many of those did what is measured; of revenue, how many bought. */
  did: number
  /** Sum and sum of squares of what is measured per person: of a share, both are `did`. */
  sum: number
  squares: number
}

/** How one arm does against the first. */
export interface Comparison {
  arm: string
  against: string
  /** Arm − first, per person. */
  difference: number
  /** Holds the truth at every look; null until there is enough of what is counted. */
  always: Interval | null
  /** For one look at the planned end; null before that. */
  fixed: Interval | null
  /** Of that one look, with the other comparisons allowed for (Holm). */
  p: number | null
  call: 'more' | 'less' | 'none' | 'open'
}

export type Verdict =
  | { kind: 'nobody' }
  /** People were not parted as they should have been: nothing else can be trusted. */
  | { kind: 'skewed'; p: number }
  /** Too little of what is counted in one arm. */
  | { kind: 'tooFew'; arm: string; have: number; need: number }
  | { kind: 'decided'; arm: string; comparison: Comparison; isBetter: boolean }
  /** No difference as large as was looked for. */
  | { kind: 'noDifference'; largest: number }
  /** The planned people are there. Who looks only now may go by `fixed`; at every look nothing can be said yet. */
  | { kind: 'planned'; comparison: Comparison; isTold: boolean }
  /** `at`: when it can be at today's traffic; null where nobody comes any more. */
  | { kind: 'open'; at: Instant | null }

export interface Judgement {
  verdict: Verdict
  comparisons: Comparison[]
  people: number
  drawn: number
  /** In all; null where no number would do. */
  needed: number | null
  /** When so many have had their window, at today's traffic; null where nobody comes any more. */
  plannedAt: Instant | null
  ratioP: number | null
}

interface Asked {
  plan: TestPlan
  arms: readonly ArmCount[]
  now: Instant
  /** How many are drawn on a day, of late. */
  perDay: number
}

/**
 * Fewer of what is counted in an arm, and the interval is not shown: an arm that has seen hardly any has hardly
 * a variance. Found by simulation (sequence.test.ts); revenue needs more, for few buy much.
 */
export const LEAST_EVENTS = { share: 10, revenue: 50 } as const

/** What an experiment has shown so far, in numbers and in one verdict. The first arm is compared with each other. */
export function judge({ plan, arms, now, perDay }: Asked): Judgement {
  const [first, ...others] = inOrder(arms)
  const drawn = arms.reduce((sum, one) => sum + one.drawn, 0)
  const people = arms.reduce((sum, one) => sum + one.people, 0)
  const weights = arms.map(({ weight }) => weight)
  const needed = people === 0 ? null : peopleNeeded(plan, baselineOf(arms), weights)
  const ratioP = sampleRatio(arms.map((arm) => ({ people: arm.drawn, weight: arm.weight })))?.p ?? null // prettier-ignore
  const plannedAt = needed === null ? null : reachedAt(needed, { drawn, people, plan, now, perDay })
  const isFull = needed !== null && people >= needed
  const comparisons = first
    ? withCalls(
        others.map((arm) => compare(plan, arm, first, { planned: needed ?? people, isFull, among: others.length })), // prettier-ignore
        plan,
      )
    : []
  const verdict = verdictOf({ plan, arms, comparisons, drawn, isFull, ratioP, plannedAt })
  return { verdict, comparisons, people, drawn, needed, plannedAt, ratioP }
}

/** Those that the others are compared with first: who gets nothing, or else the arm that stands first. */
export function inOrder<Arm extends Pick<ArmCount, 'holdout' | 'weight'>>(
  arms: readonly Arm[],
): Arm[] {
  return arms.filter(({ weight }) => weight > 0).toSorted((a, b) => Number(b.holdout) - Number(a.holdout)) // prettier-ignore
}

/** What is known of all arms together, as if there were no difference. */
export function baselineOf(arms: readonly ArmCount[]): Baseline {
  const people = arms.reduce((sum, one) => sum + one.people, 0)
  const mean = arms.reduce((sum, one) => sum + one.sum, 0) / people
  const squares = arms.reduce((sum, one) => sum + one.squares, 0) / people
  return { mean, variance: squares - mean ** 2 }
}

interface Time {
  drawn: number
  people: number
  plan: TestPlan
  now: Instant
  perDay: number
}

function reachedAt(needed: number, { drawn, people, plan, now, perDay }: Time): Instant | null {
  if (people >= needed) return now
  const windowMs = plan.windowDays * DAY_MS
  if (drawn >= needed) return now + windowMs
  return perDay > 0 ? now + windowMs + Math.ceil((needed - drawn) / perDay) * DAY_MS : null
}

interface Looked {
  planned: number
  isFull: boolean
  /** How many comparisons there are. */
  among: number
}

function compare(
  plan: TestPlan,
  arm: ArmCount,
  first: ArmCount,
  { planned, isFull, among }: Looked,
): Comparison {
  const [one, other] = [momentsOf(arm), momentsOf(first)]
  const level = (plan.level ?? USUAL_LEVEL) / among
  const share = arm.weight / (arm.weight + first.weight)
  const isEnough = Math.min(arm.did, first.did) >= leastEvents(plan)
  const always = isEnough
    ? alwaysValidInterval(one, other, {
        weight: share,
        plan: Math.max(1, planned),
        alpha: level,
      })
    : null
  return {
    arm: arm.key,
    against: first.key,
    difference: one.mean - other.mean,
    always,
    fixed: isFull && isEnough ? fixedInterval(plan, arm, first, level) : null,
    p: isFull && isEnough ? pOf(one, other, plan, arm, first) : null,
    call: 'open',
  }
}

export const leastEvents = ({ measure }: TestPlan): number =>
  measure === 'revenue' ? LEAST_EVENTS.revenue : LEAST_EVENTS.share

interface Moments {
  people: number
  mean: number
  variance: number
}

function momentsOf({ people, sum, squares }: ArmCount): Moments {
  if (people === 0) return { people, mean: 0, variance: 0 }
  const mean = sum / people
  return { people, mean, variance: Math.max(0, squares / people - mean ** 2) }
}

function fixedInterval(
  plan: TestPlan,
  arm: ArmCount,
  first: ArmCount,
  level: number,
): Interval | null {
  if (plan.measure !== 'revenue') {
    const [a, b] = [arm, first].map(({ did, people }) => ({ did, of: people }))
    return a && b ? differenceInterval(a, b, 1 - level) : null
  }
  const [one, other] = [momentsOf(arm), momentsOf(first)]
  const half = normalQuantile(1 - level / 2) * standardError(one, other)
  const difference = one.mean - other.mean
  return { low: difference - half, high: difference + half }
}

const standardError = (one: Moments, other: Moments): number =>
  Math.sqrt(one.variance / one.people + other.variance / other.people)

/** Two-sided; shares pooled, as they are planned. */
function pOf(one: Moments, other: Moments, plan: TestPlan, arm: ArmCount, first: ArmCount): number {
  const pooled = (arm.sum + first.sum) / (arm.people + first.people)
  const error =
    plan.measure === 'revenue'
      ? standardError(one, other)
      : Math.sqrt(pooled * (1 - pooled) * (1 / arm.people + 1 / first.people))
  if (error === 0) return 1
  return 2 * (1 - normalShare(Math.abs(one.mean - other.mean) / error))
}

/** Says of each comparison what can be said of it at any look. The planned look is told apart. */
function withCalls(comparisons: readonly Comparison[], plan: TestPlan): Comparison[] {
  const adjusted = holmAdjusted(comparisons.map(({ p }) => p ?? 1))
  return comparisons.map((one, index) => ({
    ...one,
    p: one.p === null ? null : (adjusted[index] ?? 1),
    call: callOf(one, plan.least),
  }))
}

function callOf({ always, fixed, difference }: Comparison, least: number): Comparison['call'] {
  if (always !== null && (always.low > 0 || always.high < 0))
    return difference > 0 ? 'more' : 'less'
  const isSmall = [always, fixed].some((one) => one && one.low > -least && one.high < least)
  return isSmall ? 'none' : 'open'
}

interface Seen {
  plan: TestPlan
  arms: readonly ArmCount[]
  comparisons: readonly Comparison[]
  drawn: number
  isFull: boolean
  ratioP: number | null
  plannedAt: Instant | null
}

function verdictOf({ plan, arms, comparisons, drawn, isFull, ratioP, plannedAt }: Seen): Verdict {
  if (drawn === 0) return { kind: 'nobody' }
  if (ratioP !== null && ratioP < RATIO_ALARM) return { kind: 'skewed', p: ratioP }
  const decided = decidedBy(comparisons, plan)
  if (decided) return decided
  const need = leastEvents(plan)
  const fewest = inOrder(arms).toSorted((a, b) => a.did - b.did)[0]
  if (fewest && fewest.did < need && !isFull) {
    return { kind: 'tooFew', arm: fewest.key, have: fewest.did, need }
  }
  if (comparisons.length > 0 && comparisons.every(({ call }) => call === 'none')) {
    return { kind: 'noDifference', largest: largestLeft(comparisons) }
  }
  const [clearest] = comparisons.toSorted((a, b) => (a.p ?? 1) - (b.p ?? 1))
  if (isFull && clearest?.fixed) {
    const isTold = clearest.p !== null && clearest.p < (plan.level ?? USUAL_LEVEL)
    return { kind: 'planned', comparison: clearest, isTold }
  }
  return { kind: 'open', at: plannedAt }
}

/** The arm that is best of those that differ from the first; the first itself where all are worse. */
function decidedBy(comparisons: readonly Comparison[], plan: TestPlan): Verdict | null {
  const sign = isBetterLow(plan.measure) ? -1 : 1
  const told = comparisons.filter(({ call }) => call === 'more' || call === 'less')
  const best = told.toSorted((a, b) => sign * (b.difference - a.difference))[0]
  if (!best) return null
  const isBetter = sign * best.difference > 0
  if (!isBetter && told.length < comparisons.length) return null
  return { kind: 'decided', arm: isBetter ? best.arm : best.against, comparison: best, isBetter }
}

/** What difference may still be there. */
function largestLeft(comparisons: readonly Comparison[]): number {
  const bounds = comparisons.flatMap(({ always, fixed }) => {
    const interval = fixed ?? always
    return interval ? [Math.abs(interval.low), Math.abs(interval.high)] : []
  })
  return Math.max(0, ...bounds)
}
