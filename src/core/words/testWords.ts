import type { ArmDrift } from '../experiments/armDrift.ts'
import type { Comparison, Verdict } from '../experiments/judge.ts'
import { DAY_MS } from '../shared/duration.ts'
import { formatMoney } from '../shared/money.ts'
import { localTime, type Instant } from '../shared/time.ts'
import type { TestMeasure, TestPlan } from '../workflow/testPlan.ts'
import { MONTHS, plural } from './quantities.ts'

interface MeasureWords {
  /** As a choice. */
  label: string
  /** What is counted, where it is counted: "3 of 10 orders". */
  events: string
  /** What an arm has more or fewer of, per person. */
  gain: string
}

/** What an experiment can be decided by, each once. */
export const TEST_MEASURE_WORDS: Readonly<Record<TestMeasure, MeasureWords>> = {
  ordered: { label: 'who ordered', events: 'people who ordered', gain: 'people who order' },
  revenue: { label: 'revenue per person', events: 'people who bought', gain: 'revenue per person' },
  clicked: { label: 'who clicked', events: 'people who clicked', gain: 'people who click' },
  reviewed: { label: 'who left a review', events: 'reviews', gain: 'people who leave a review' },
  unsubscribed: {
    label: 'who unsubscribed or complained',
    events: 'people who unsubscribed',
    gain: 'people who unsubscribe',
  },
}

/** What the words of an experiment are said with. */
export interface TestContext {
  plan: TestPlan
  nameOf: (arm: string) => string
  currency: string
  locale: string
  zone: string
  now: Instant
}

/** "2.1 points" of a share, "€1.10" of revenue; without its sign. */
export function amountWords(
  value: number,
  { plan, currency, locale }: Pick<TestContext, 'plan' | 'currency' | 'locale'>,
): string {
  const size = Math.abs(value)
  if (plan.measure === 'revenue') {
    return formatMoney({ amountMinor: Math.round(size), currency }, locale)
  }
  const points = pointsOf(size)
  return `${points} ${points === '1' ? 'point' : 'points'}`
}

/** "0.4 to 3.8", "−0.4 to 3.8 points": both ends with their signs. */
export function spanWords(
  low: number,
  high: number,
  context: Pick<TestContext, 'plan' | 'currency' | 'locale'>,
): string {
  const { plan, currency, locale } = context
  const signed = (value: number): string => (value < 0 ? '−' : '')
  if (plan.measure === 'revenue') {
    const money = (value: number) => formatMoney({ amountMinor: Math.round(Math.abs(value)), currency }, locale) // prettier-ignore
    return `${signed(low)}${money(low)} to ${signed(high)}${money(high)}`
  }
  return `${signed(low)}${pointsOf(Math.abs(low))} to ${signed(high)}${pointsOf(Math.abs(high))}`
}

const pointsOf = (share: number): string => {
  const points = share * 100
  return points.toFixed(points < 1 ? 2 : 1).replace(/\.?0+$/, '') || '0'
}

/** "9 June", with the year where it is another one. */
export function dayOf(at: Instant, { zone, now }: Pick<TestContext, 'zone' | 'now'>): string {
  const { day, month, year } = localTime(at, zone)
  const isOther = year !== localTime(now, zone).year
  return `${day} ${MONTHS[month - 1] ?? ''}${isOther ? ` ${year}` : ''}`
}

/** What can be said of an experiment, in a sentence or two. */
export function verdictWords(verdict: Verdict, context: TestContext): string {
  const { plan, nameOf } = context
  const { events, gain } = TEST_MEASURE_WORDS[plan.measure]
  switch (verdict.kind) {
    case 'nobody':
      return 'Nobody has been drawn yet.'
    case 'skewed':
      return 'The arms have not got the people they should have: chance alone would part them like this less than once in a thousand times. Find out why before anything is decided; what is shown below cannot be trusted.'
    case 'tooFew':
      return `Too early to tell: “${nameOf(verdict.arm)}” has ${verdict.have} of the ${verdict.need} ${events} that it takes to say anything.`
    case 'decided':
      return decidedWords(verdict, context)
    case 'noDifference':
      return `No difference larger than ${amountWords(verdict.largest, context)}.`
    case 'planned':
      return plannedWords(verdict, context)
    case 'open':
      return verdict.at === null
        ? 'Cannot be decided: nobody is drawn into it any more.'
        : `Cannot be decided before ${dayOf(verdict.at, context)}, at today’s traffic. Until then, a difference in ${gain} would have to be large to be seen.`
  }
}

/** What an experiment that nothing can be decided of shows so far; null before there is enough of what is counted. */
export function soFarWords(
  comparisons: readonly Comparison[],
  context: TestContext,
): string | null {
  const [first] = comparisons
  if (!first?.always) return null
  const { arm, against, difference, always } = first
  const { gain } = TEST_MEASURE_WORDS[context.plan.measure]
  const unit = context.plan.measure === 'revenue' ? '' : ' points'
  return `So far ${amountWords(difference, context)} ${difference < 0 ? 'fewer' : 'more'} ${gain} with “${context.nameOf(arm)}” than with “${context.nameOf(against)}”, but anything from ${spanWords(always.low, always.high, context)}${unit} is possible. It gets narrower with the weeks.`
}

function decidedWords(
  { arm, comparison, isBetter }: Extract<Verdict, { kind: 'decided' }>,
  context: TestContext,
): string {
  const { plan, nameOf } = context
  const { difference, always, fixed } = comparison
  const interval = always && (always.low > 0 || always.high < 0) ? always : (fixed ?? always)
  const other = isBetter ? comparison.against : comparison.arm
  // Said of the arm that is better: the other way round where that is the first one.
  const [low, high] = interval ? [interval.low, interval.high] : [difference, difference]
  const sign = isBetter ? 1 : -1
  const ends = [low * sign, high * sign].toSorted((a, b) => a - b)
  const span = spanWords(ends[0] ?? 0, ends[1] ?? 0, context)
  const { gain } = TEST_MEASURE_WORDS[plan.measure]
  const isMore = difference * sign > 0
  const amount = amountWords(difference, context)
  return plan.measure === 'revenue'
    ? `“${nameOf(arm)}” earns ${amount} ${isMore ? 'more' : 'less'} per person than “${nameOf(other)}” (${span}).`
    : `“${nameOf(arm)}” is better: ${amount} ${isMore ? 'more' : 'fewer'} ${gain} than with “${nameOf(other)}” (${span}).`
}

function plannedWords(
  { comparison, isTold }: Extract<Verdict, { kind: 'planned' }>,
  context: TestContext,
): string {
  const { arm, against, difference, fixed } = comparison
  if (!fixed) return 'The planned people are there.'
  const { plan, nameOf } = context
  const { gain } = TEST_MEASURE_WORDS[plan.measure]
  const unit = plan.measure === 'revenue' ? '' : ' points'
  const span = `${spanWords(fixed.low, fixed.high, context)}${unit}`
  const size = `${amountWords(difference, context)} ${difference < 0 ? 'less' : 'more'} (${span})`
  return isTold
    ? `The planned people are there. Whoever looks only now may say: “${nameOf(arm)}” has ${size} of ${gain} than “${nameOf(against)}”. Whoever has looked before waits for the interval that holds at every look; it still holds nought.`
    : `The planned people are there, and no difference can be told: “${nameOf(arm)}” against “${nameOf(against)}”, ${span} of ${gain}.`
}

/** How far off the planned end is, where that is no use to anybody. */
export function isYearsAway(at: Instant | null, now: Instant): boolean {
  return at !== null && at - now > 365 * DAY_MS
}

/** In what the arms differ that was perhaps not meant. */
export function driftWords(
  drift: ArmDrift,
  nameOf: (arm: string) => string,
  stopName: (step: string) => string,
): string {
  switch (drift.code) {
    case 'couponInSome':
      return `Only ${drift.arms.map((arm) => `“${nameOf(arm)}”`).join(' and ')} gives a coupon: the arms may differ by the money, not by what else is tested.`
    case 'laterByClock':
      return `The arms take differently long, and “${stopName(drift.stop)}” after them goes by the clock: for some of one arm it comes a day later than for the other.`
    case 'messages':
      return `The arms send different numbers of messages: ${drift.counts.map(({ arm, messages }) => `“${nameOf(arm)}” ${plural(messages, 'message')}`).join(', ')}.`
  }
}
