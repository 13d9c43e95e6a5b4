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
  const workflows = new Set(past.entries.map(({ workflowId }) => workflowId))
  const ahead = Array.from({ length: days }, () => 0)
  for (const id of workflows) {
    const entries = past.entries.filter(({ workflowId, entered }) => workflowId === id && entered <= today) // prettier-ignore
    const sends = past.sends.filter(({ workflowId, sent }) => workflowId === id && sent <= today)
    const rates = ratesOf(entries, sends, today)
    for (let step = 1; step <= days; step += 1) {
      ahead[step - 1] = (ahead[step - 1] ?? 0) + ofThoseWithin(entries, rates, today, step) + ofThoseToCome(entries, rates, today, step) // prettier-ignore
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

/** Of those who are in it on `today`: by what others got who were in it as long. */
function ofThoseWithin(
  entries: readonly EntryCount[],
  rates: Rates,
  today: DayNumber,
  step: number,
): number {
  return entries.reduce((sum, { entered, ended, count }) => {
    const age = today - entered
    if ((ended !== null && ended <= today) || age + step >= LEARNT_DAYS) return sum
    const within = rates.within(age)
    return within > 0 ? sum + (count * rates.sent(age + step)) / within : sum
  }, 0)
}

/** Of those who will enter: at the pace of the same weekday before. */
function ofThoseToCome(
  entries: readonly EntryCount[],
  rates: Rates,
  today: DayNumber,
  step: number,
): number {
  let sum = 0
  for (let day = 1; day <= step; day += 1) {
    sum += paceOn(entries, today, today + day) * rates.sent(step - day)
  }
  return sum
}

function paceOn(entries: readonly EntryCount[], today: DayNumber, day: DayNumber): number {
  const first = Math.min(...entries.map(({ entered }) => entered))
  const known = Math.min(ENTRY_WEEKS * 7, today - first + 1)
  const weeks = Math.max(1, Math.floor(known / 7))
  const from = today - weeks * 7
  const same = entries.filter(({ entered }) => entered > from && (day - entered) % 7 === 0)
  const count = same.reduce((sum, one) => sum + one.count, 0)
  return known < 7 ? entries.reduce((sum, one) => sum + one.count, 0) / known : count / weeks
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
