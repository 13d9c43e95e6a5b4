import type { ArmReport, ExperimentReport } from '../../../contract/experiments.ts'
import { countFor } from '../../../core/experiments/counts.ts'
import { baselineOf, inOrder, judge, type Judgement } from '../../../core/experiments/judge.ts'
import { leastSeen } from '../../../core/experiments/needed.ts'
import { alwaysValidInterval } from '../../../core/statistics/sequence.ts'
import type { TestContext } from '../../../core/words/testWords.ts'
import type { Interval } from '../../../core/statistics/rates.ts'
import { LEAST_EVENTS } from '../../../core/experiments/judge.ts'

export const nameOf = (arms: readonly Pick<ArmReport, 'key' | 'name'>[], key: string): string =>
  arms.find((arm) => arm.key === key)?.name || 'Unnamed arm'

/** What a report is put into words with. */
export function contextOf(
  { plan, arms, now }: ExperimentReport,
  { currency, locale, zone }: Pick<TestContext, 'currency' | 'locale' | 'zone'>,
): TestContext {
  return { plan, nameOf: (key) => nameOf(arms, key), currency, locale, zone, now }
}

/** What an experiment has come to, judged by its plan. */
export function judged({ plan, arms, now, perDay }: ExperimentReport): Judgement {
  return judge({ plan, arms: arms.map((arm) => countFor(plan.measure, arm)), now, perDay })
}

/** What the messages of the arms brought by themselves, by the holdout; beside what is attributed to them. */
export interface Caused {
  attributedMinor: number
  /** Null until there are enough buyers on both sides. */
  revenue: { minor: number; low: number; high: number } | null
  buyers: { holdout: number; others: number; need: number }
  people: number
}

/** What everybody who could get messages bought more than those who could not; null without a holdout. */
export function causedBy(report: ExperimentReport): Caused | null {
  const holdout = report.arms.find((arm) => arm.holdout && arm.weight > 0)
  const others = report.arms.filter((arm) => !arm.holdout && arm.weight > 0)
  if (!holdout || others.length === 0) return null
  const all = sumOf(others)
  const weight = all.weight / (all.weight + holdout.weight)
  const interval = alwaysValidInterval(spent(all), spent(holdout), {
    weight,
    plan: Math.max(1, all.people + holdout.people),
  })
  const need = LEAST_EVENTS.revenue
  const isEnough = Math.min(holdout.ordered, all.ordered) >= need
  const per = spent(all).mean - spent(holdout).mean
  return {
    attributedMinor: report.attributedMinor,
    revenue: isEnough && interval ? scaled(per, interval, all.people) : null,
    buyers: { holdout: holdout.ordered, others: all.ordered, need },
    people: all.people,
  }
}

const scaled = (per: number, { low, high }: Interval, people: number) => ({
  minor: per * people,
  low: low * people,
  high: high * people,
})

type Spent = Pick<ArmReport, 'weight' | 'people' | 'ordered' | 'revenueMinor' | 'revenueSquares'>

function sumOf(arms: readonly ArmReport[]): Spent {
  const sum = (key: keyof Spent) => arms.reduce((all, one) => all + one[key], 0)
  return {
    weight: sum('weight'),
    people: sum('people'),
    ordered: sum('ordered'),
    revenueMinor: sum('revenueMinor'),
    revenueSquares: sum('revenueSquares'),
  }
}

function spent({ people, revenueMinor, revenueSquares }: Spent) {
  const mean = people === 0 ? 0 : revenueMinor / people
  return { people, mean, variance: people === 0 ? 0 : revenueSquares / people - mean ** 2 }
}

/** The least difference that the people of so many days would show, with those who are there already. */
export function seenWithin(report: ExperimentReport, days: number): number | null {
  const counts = report.arms.map((arm) => countFor(report.plan.measure, arm))
  const drawn = counts.reduce((sum, one) => sum + one.drawn, 0)
  const people = drawn + report.perDay * Math.max(0, days - report.plan.windowDays)
  const weights = inOrder(counts).map(({ weight }) => weight)
  return leastSeen(report.plan, baselineOf(counts), weights, people)
}
