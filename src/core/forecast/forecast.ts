import { grouped } from '../shared/grouped.ts'

/** Days are counted by the shop's calendar, as whole numbers that grow by one a day. */
export type DayNumber = number

/** How many entered a workflow on a day, by the day on which they came to its end; null: still in it. */
export interface EntryCount {
  workflowId: string
  entered: DayNumber
  ended: DayNumber | null
  count: number
}

/** How many messages left on a day, by the day on which their people had entered. */
export interface SendCount {
  workflowId: string
  entered: DayNumber
  sent: DayNumber
  count: number
}

export interface Past {
  entries: readonly EntryCount[]
  sends: readonly SendCount[]
}

export interface DayForecast {
  day: DayNumber
  expected: number
  low: number
  high: number
}

/** Whoever entered longer ago than this says nothing of how it goes on. */
const LEARNT_DAYS = 120
/** How far back new entries are counted, by weekday. */
const ENTRY_WEEKS = 8

/**
 * How many messages will leave on each of the next days, as if it were the end of day `today`: of those who are in
 * a workflow now by how it went on for others who were in it as long, and of those who will enter at the pace of
 * the last eight weeks, weekday by weekday. `spread`: how much wider days scatter than chance alone would have them
 * (`spreadOf`). Only what was known on that day is used.
 */
export function forecast(past: Past, today: DayNumber, days: number, spread = 1): DayForecast[] {
  const sendsOf = grouped(past.sends, ({ workflowId }) => workflowId)
  const ahead = Array.from({ length: days }, () => 0)
  for (const [id, all] of grouped(past.entries, ({ workflowId }) => workflowId)) {
    const entries = all.filter(({ entered }) => entered <= today)
    const sends = (sendsOf.get(id) ?? []).filter(({ sent }) => sent <= today)
    const rates = ratesOf(entries, sends, today)
    const within = byAge(
      entries
        .filter(({ ended }) => ended === null || ended > today)
        .map(({ entered, count }) => ({ age: today - entered, count })),
    )
    const paces = pacesOn(entries, today, days)
    for (let step = 1; step <= days; step += 1) {
      ahead[step - 1] = (ahead[step - 1] ?? 0) + ofThoseWithin(within, rates, step) + ofThoseToCome(paces, rates, step) // prettier-ignore
    }
  }
  return ahead.map((expected, index) => {
    // A Poisson's variance is its mean; what scatters more is allowed for. 90 of 100 days lie within.
    const half = 1.645 * Math.sqrt(Math.max(expected, 0.5) * Math.max(1, spread))
    return { day: today + index + 1, expected, low: Math.max(0, expected - half), high: expected + half } // prettier-ignore
  })
}

interface Rates {
  /** Messages sent at an age in days, per person who entered long enough ago. */
  sent: (age: number) => number
  /** The share that is still in the workflow at an age. */
  within: (age: number) => number
}

function ratesOf(
  entries: readonly EntryCount[],
  sends: readonly SendCount[],
  today: DayNumber,
): Rates {
  const from = today - LEARNT_DAYS
  const recent = entries.filter(({ entered }) => entered > from)
  const exposed = cumulative(recent.map(({ entered, count }) => ({ age: today - entered, count })))
  const sent = byAge(sends.filter(({ entered }) => entered > from).map((one) => ({ age: one.sent - one.entered, count: one.count }))) // prettier-ignore
  const gone = byAge(
    recent.flatMap(({ entered, ended, count }) =>
      ended !== null && ended <= today ? [{ age: ended - entered, count }] : [],
    ),
  )
  // Kaplan and Meier: of those who were still there at each age, how many went on.
  const left: number[] = [1]
  for (let age = 0; age < LEARNT_DAYS; age += 1) {
    const atRisk = Math.max(exposed(age), 0) * (left[age] ?? 0)
    const share = atRisk > 0 ? Math.min(1, (gone.get(age) ?? 0) / atRisk) : 0
    left.push((left[age] ?? 0) * (1 - share))
  }
  return {
    sent: (age) => {
      const people = exposed(age)
      return people > 0 ? (sent.get(age) ?? 0) / people : 0
    },
    within: (age) => left[Math.min(age + 1, left.length - 1)] ?? 0,
  }
}

interface Aged {
  age: number
  count: number
}

function byAge(rows: readonly Aged[]): Map<number, number> {
  const counts = new Map<number, number>()
  for (const { age, count } of rows) counts.set(age, (counts.get(age) ?? 0) + count)
  return counts
}

/** How many have been watched for at least so many days. */
function cumulative(rows: readonly Aged[]): (age: number) => number {
  const counts = byAge(rows)
  const least: number[] = []
  let sum = 0
  for (let age = LEARNT_DAYS; age >= 0; age -= 1) {
    sum += counts.get(age) ?? 0
    least[age] = sum
  }
  return (age) => least[age] ?? 0
}

/** Of those who are in it on the day, so many at each age: by what others got who were in it as long. */
function ofThoseWithin(inIt: ReadonlyMap<number, number>, rates: Rates, step: number): number {
  let sum = 0
  for (const [age, count] of inIt) {
    if (age + step >= LEARNT_DAYS) continue
    const within = rates.within(age)
    if (within > 0) sum += (count * rates.sent(age + step)) / within
  }
  return sum
}

/** Of those who will enter, so many on each of the days. */
function ofThoseToCome(paces: readonly number[], rates: Rates, step: number): number {
  let sum = 0
  for (let day = 1; day <= step; day += 1) sum += (paces[day - 1] ?? 0) * rates.sent(step - day)
  return sum
}

/** How many will enter on each of the next days: at the pace of the same weekday before. */
function pacesOn(entries: readonly EntryCount[], today: DayNumber, days: number): number[] {
  const on = byAge(entries.map(({ entered, count }) => ({ age: today - entered, count })))
  const ages = [...on.keys()]
  const known = Math.min(ENTRY_WEEKS * 7, Math.max(...ages) + 1)
  const weeks = Math.max(1, Math.floor(known / 7))
  const all = [...on.values()].reduce((sum, count) => sum + count, 0)
  return Array.from({ length: days }, (_, index) => {
    if (known < 7) return all / known
    const same = ages.filter((age) => age < weeks * 7 && (index + 1 + age) % 7 === 0)
    return same.reduce((sum, age) => sum + (on.get(age) ?? 0), 0) / weeks
  })
}

/**
 * How much wider days have scattered around what was forecast than chance alone would have them: the mean of
 * (came − expected)² / expected, at least 1.
 */
export function spreadOf(pairs: readonly { expected: number; came: number }[]): number {
  const usable = pairs.filter(({ expected }) => expected >= 1)
  if (usable.length === 0) return 1
  const sum = usable.reduce((all, { expected, came }) => all + (came - expected) ** 2 / expected, 0)
  return Math.max(1, sum / usable.length)
}
