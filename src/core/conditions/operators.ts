import { DAY_MS } from '../shared/duration.ts'
import { startOfDate } from '../shared/localTime.ts'
import type { Money } from '../shared/money.ts'
import { localTime, type Instant } from '../shared/time.ts'
import { daysSince, daysUntil, monthOf, type YearDay } from '../shared/yearDay.ts'
import type { FieldType, FieldValue } from './fields.ts'

/** What an operator is compared with: `none` for "is known", `many` for a list of texts. */
export type OperandShape = 'one' | 'range' | 'many' | 'none' | 'days' | 'weekdays' | 'months'

/** The operand of a field condition, as documents carry it. */
export type Operand =
  | string
  | number
  | boolean
  | Money
  | readonly string[]
  | readonly number[]
  | { from: number | Money; to: number | Money }
  | undefined

export interface Operator {
  op: string
  label: string
  operand: OperandShape
}

const KNOWN: readonly Operator[] = [
  { op: 'known', label: 'is known', operand: 'none' },
  { op: 'notKnown', label: 'is not known', operand: 'none' },
]

const COMPARE: readonly Operator[] = [
  { op: 'gte', label: 'is at least', operand: 'one' },
  { op: 'gt', label: 'is more than', operand: 'one' },
  { op: 'lte', label: 'is at most', operand: 'one' },
  { op: 'lt', label: 'is less than', operand: 'one' },
  { op: 'eq', label: 'is exactly', operand: 'one' },
  { op: 'ne', label: 'is other than', operand: 'one' },
  { op: 'between', label: 'is between', operand: 'range' },
  ...KNOWN,
]

/** The operators each type of field offers, in the order the editor lists them. */
export const OPERATORS: Readonly<Record<FieldType, readonly Operator[]>> = {
  money: COMPARE,
  number: COMPARE,
  text: [
    { op: 'is', label: 'is', operand: 'one' },
    { op: 'in', label: 'is one of', operand: 'many' },
    { op: 'contains', label: 'contains', operand: 'one' },
    { op: 'startsWith', label: 'starts with', operand: 'one' },
    ...KNOWN,
  ],
  choice: [
    { op: 'is', label: 'is', operand: 'one' },
    { op: 'in', label: 'is one of', operand: 'many' },
    ...KNOWN,
  ],
  yesNo: [{ op: 'is', label: 'is', operand: 'one' }, ...KNOWN],
  list: [
    { op: 'hasAny', label: 'include any of', operand: 'many' },
    { op: 'hasAll', label: 'include all of', operand: 'many' },
    { op: 'hasNone', label: 'include none of', operand: 'many' },
    ...KNOWN,
  ],
  date: [
    { op: 'withinLast', label: 'was in the last days:', operand: 'days' },
    { op: 'withinNext', label: 'is in the next days:', operand: 'days' },
    { op: 'before', label: 'is before', operand: 'one' },
    { op: 'after', label: 'is after', operand: 'one' },
    { op: 'onWeekday', label: 'is on', operand: 'weekdays' },
    ...KNOWN,
  ],
  yearDay: [
    { op: 'isToday', label: 'is today', operand: 'none' },
    { op: 'comesWithin', label: 'is in the next days:', operand: 'days' },
    { op: 'wasWithin', label: 'was in the last days:', operand: 'days' },
    { op: 'inMonth', label: 'is in', operand: 'months' },
    ...KNOWN,
  ],
}

/** The operator of a field type, or undefined when the type has no such operator. */
export function findOperator(type: FieldType, op: string): Operator | undefined {
  return OPERATORS[type].find((operator) => operator.op === op)
}

/** Which types are tested against the moment of asking. The others are asked too often to make one each time. */
export const ASKS_WHEN: Readonly<Record<FieldType, boolean>> = {
  money: false,
  number: false,
  text: false,
  choice: false,
  yesNo: false,
  list: false,
  date: true,
  yearDay: true,
}

/** What tests of dates are made against. Dates in conditions are days of the shop's calendar. */
export interface TestMoment {
  now: Instant
  zone: string
}

export type Test = (value: FieldValue, moment: TestMoment) => boolean

/**
 * The test an operator makes, with its operand built in. An unknown value fails every test but
 * `notKnown`; amounts in different currencies are never compared, so they fail too.
 * Expects an operand that the document schema has accepted.
 */
export function compileOperator(op: string, operand: Operand): Test {
  if (op === 'known') return (value) => value !== null
  if (op === 'notKnown') return (value) => value === null
  if (op === 'between') {
    const { from, to } = operand as { from: number | Money; to: number | Money }
    const atLeast = compare((a, b) => a >= b, from)
    const atMost = compare((a, b) => a <= b, to)
    return (value, moment) => atLeast(value, moment) && atMost(value, moment)
  }
  const numeric = NUMERIC[op]
  if (numeric) return compare(numeric, operand as number | Money)
  const other = TEXTUAL[op] ?? DATED[op] ?? YEARLY[op]
  if (other) return other(operand)
  throw new RangeError(`Unknown operator "${op}"`)
}

type Comparison = (a: number, b: number) => boolean

const NUMERIC: Readonly<Record<string, Comparison>> = {
  gte: (a, b) => a >= b,
  gt: (a, b) => a > b,
  lte: (a, b) => a <= b,
  lt: (a, b) => a < b,
  eq: (a, b) => a === b,
  ne: (a, b) => a !== b,
}

function compare(test: Comparison, operand: number | Money): Test {
  if (typeof operand === 'number')
    return (value) => typeof value === 'number' && test(value, operand)
  return (value) =>
    isMoney(value) &&
    value.currency === operand.currency &&
    test(value.amountMinor, operand.amountMinor)
}

const TEXTUAL: Readonly<Record<string, (operand: Operand) => Test>> = {
  is: (operand) => {
    if (typeof operand === 'boolean') return (value) => value === operand
    const wanted = textOf(operand)
    return (value) => typeof value === 'string' && fold(value) === wanted
  },
  in: (operand) => {
    const wanted = new Set((operand as readonly string[]).map(fold))
    return (value) => typeof value === 'string' && wanted.has(fold(value))
  },
  contains: (operand) => {
    const wanted = textOf(operand)
    return (value) => typeof value === 'string' && fold(value).includes(wanted)
  },
  startsWith: (operand) => {
    const wanted = textOf(operand)
    return (value) => typeof value === 'string' && fold(value).startsWith(wanted)
  },
  hasAny: (operand) => {
    const wanted = new Set(listOf(operand))
    return (value) => isList(value) && holdsAny(value, wanted)
  },
  hasAll: (operand) => {
    const wanted = listOf(operand)
    return (value) => {
      if (!isList(value)) return false
      const inIt = value.map(fold)
      return wanted.every((one) => inIt.includes(one))
    }
  },
  hasNone: (operand) => {
    const wanted = new Set(listOf(operand))
    return (value) => isList(value) && !holdsAny(value, wanted)
  },
}

/** A plain loop: lists are asked about for every event, and most have one or two entries. */
function holdsAny(list: readonly string[], wanted: ReadonlySet<string>): boolean {
  for (const one of list) if (wanted.has(fold(one))) return true
  return false
}

const DATED: Readonly<Record<string, (operand: Operand) => Test>> = {
  withinLast: (operand) => {
    const span = (operand as number) * DAY_MS
    return (value, { now }) => typeof value === 'number' && value <= now && value >= now - span
  },
  withinNext: (operand) => {
    const span = (operand as number) * DAY_MS
    return (value, { now }) => typeof value === 'number' && value >= now && value <= now + span
  },
  before:
    (operand) =>
    (value, { zone }) =>
      typeof value === 'number' && value < startOfDate(operand as string, zone),
  after:
    (operand) =>
    (value, { zone }) =>
      // Later than that day, not than its first moment.
      typeof value === 'number' &&
      value >= startOfDate(operand as string, zone) &&
      !isOn(value, operand as string, zone),
  onWeekday:
    (operand) =>
    (value, { zone }) =>
      typeof value === 'number' &&
      (operand as readonly number[]).includes(localTime(value, zone).weekday),
}

/** Days are counted by the shop's calendar, and the day itself is one of both sides. */
const YEARLY: Readonly<Record<string, (operand: Operand) => Test>> = {
  isToday: () => yearly((day, { now, zone }) => daysUntil(day, now, zone) === 0),
  comesWithin: (days) => yearly((day, { now, zone }) => daysUntil(day, now, zone) <= Number(days)),
  wasWithin: (days) => yearly((day, { now, zone }) => daysSince(day, now, zone) <= Number(days)),
  inMonth: (months) => yearly((day) => (months as readonly number[]).includes(monthOf(day))),
}

const yearly =
  (test: (day: YearDay, moment: TestMoment) => boolean): Test =>
  (value, moment) =>
    typeof value === 'string' && test(value, moment)

function isOn(at: Instant, date: string, zone: string): boolean {
  const { year, month, day } = localTime(at, zone)
  const [y, m, d] = date.split('-').map(Number)
  return year === y && month === m && day === d
}

/** Texts are compared without regard to case, as a marketer typing "pt" or "PT" expects. */
const fold = (text: string): string => text.toLowerCase()
const textOf = (operand: Operand): string => fold(operand as string)
const listOf = (operand: Operand): readonly string[] => (operand as readonly string[]).map(fold)
const isList = (value: FieldValue): value is readonly string[] => Array.isArray(value)

/** True for a field value that is an amount of money. */
export function isMoney(value: unknown): value is Money {
  return typeof value === 'object' && value !== null && 'amountMinor' in value
}
