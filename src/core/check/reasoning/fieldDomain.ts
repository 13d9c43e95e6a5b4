import type { FieldCondition } from '../../conditions/condition.ts'
import type { Field } from '../../conditions/fields.ts'
import { isMoney } from '../../conditions/operators.ts'
import { DAY_MS } from '../../shared/duration.ts'
import { startOfDate } from '../../shared/localTime.ts'
import type { Money } from '../../shared/money.ts'
import { ALL, compared, complement, intersect, between, type Ranges } from './ranges.ts'

/** What a known value of a field can still be, after some tests. */
export interface Domain {
  /** Narrows it to values that pass a test, or to those that fail it. */
  narrow: (condition: FieldCondition, passes: boolean) => Domain
  isEmpty: () => boolean
}

/** Every value a field can have. */
export function domainOf(field: Field): Domain {
  switch (field.type) {
    case 'number':
      return numbers(ALL)
    case 'money':
      return money(new Map(), null)
    case 'date':
      return dates({ absolute: ALL, relative: ALL, weekdays: between(1, 7) })
    case 'yearDay':
      return yearDays({ until: ALL, since: ALL, months: between(1, 12) })
    case 'yesNo':
      return texts(['true', 'false'], [])
    case 'choice':
      return texts(Object.keys(field.choices ?? {}), [])
    case 'list':
      return lists({ has: [], hasNot: [], anyOf: [], lacksOneOf: [] })
    case 'text':
      return texts(null, [])
  }
}

/** The numbers a comparison allows. */
function allowed(op: string, value: unknown, numberOf: (operand: unknown) => number): Ranges {
  if (op !== 'between') return compared(op, numberOf(value))
  const { from, to } = value as { from: unknown; to: unknown }
  return between(Math.ceil(numberOf(from)), Math.floor(numberOf(to)))
}

const asSaid = (set: Ranges, passes: boolean): Ranges => (passes ? set : complement(set))

function numbers(set: Ranges): Domain {
  return {
    narrow: ({ op, value }, passes) =>
      numbers(intersect(set, asSaid(allowed(op, value, Number), passes))),
    isEmpty: () => set.length === 0,
  }
}

/** Amounts by currency. `only`: the one currency it must be in; null: any, named or not. */
function money(amounts: ReadonlyMap<string, Ranges>, only: string | null | false): Domain {
  return {
    narrow: ({ op, value }, passes) => {
      const currency = currencyOf(value)
      const set = asSaid(
        allowed(op, value, (one) => (one as Money).amountMinor),
        passes,
      )
      const own = intersect(amounts.get(currency) ?? ALL, set)
      const next = new Map([...amounts, [currency, own]])
      // Amounts in another currency fail every comparison.
      if (!passes || only === currency) return money(next, only)
      return money(next, only === null ? currency : false)
    },
    isEmpty: () => only === false || (only !== null && (amounts.get(only) ?? ALL).length === 0),
  }
}

function currencyOf(value: unknown): string {
  if (isMoney(value)) return value.currency
  return (value as { from: Money }).from.currency
}

interface Dates {
  /** Days of the calendar, counted. */
  absolute: Ranges
  /** Days before or after now. */
  relative: Ranges
  weekdays: Ranges
}

const dayNumber = (date: unknown): number => startOfDate(date as string, 'UTC') / DAY_MS

function dates(set: Dates): Domain {
  const narrowed = (part: keyof Dates, to: Ranges, passes: boolean): Domain =>
    dates({ ...set, [part]: intersect(set[part], asSaid(to, passes)) })
  return {
    narrow: ({ op, value }, passes) => {
      switch (op) {
        case 'before':
          return narrowed('absolute', between(-Infinity, dayNumber(value) - 1), passes)
        case 'after':
          return narrowed('absolute', between(dayNumber(value) + 1, Infinity), passes)
        case 'withinLast':
          return narrowed('relative', between(-Number(value), 0), passes)
        case 'withinNext':
          return narrowed('relative', between(0, Number(value)), passes)
        default:
          return narrowed('weekdays', namedNumbers(value as number[]), passes)
      }
    },
    isEmpty: () => Object.values(set).some((part: Ranges) => part.length === 0),
  }
}

interface YearDays {
  /** In how many days it comes, and how many days ago it was: 0 on the day itself. */
  until: Ranges
  since: Ranges
  months: Ranges
}

function yearDays(set: YearDays): Domain {
  const narrowed = (part: keyof YearDays, to: Ranges, passes: boolean): Domain =>
    yearDays({ ...set, [part]: intersect(set[part], asSaid(to, passes)) })
  return {
    narrow: ({ op, value }, passes) => {
      switch (op) {
        case 'isToday':
          return narrowed('until', between(0, 0), passes)
        case 'comesWithin':
          return narrowed('until', between(0, Number(value)), passes)
        case 'wasWithin':
          return narrowed('since', between(0, Number(value)), passes)
        case 'inMonth':
          return narrowed('months', namedNumbers(value as number[]), passes)
        default:
          throw new RangeError(`"${op}" asks nothing of a day of the year`)
      }
    },
    isEmpty: () => Object.values(set).some((part: Ranges) => part.length === 0),
  }
}

const namedNumbers = (values: readonly number[]): Ranges =>
  values.toSorted((a, b) => a - b).map((one) => ({ from: one, to: one }))

type TextTest = (value: string) => boolean

/** `among`: the only values there are, in lower case; null: any. */
function texts(among: readonly string[] | null, tests: readonly TextTest[]): Domain {
  return {
    narrow: ({ op, value }, passes) => {
      const wanted = [value as string | boolean | string[]]
        .flat()
        .map((one) => `${one}`.toLowerCase())
      if ((op === 'is' || op === 'in') && passes) {
        return texts(
          (among ?? wanted).filter((one) => wanted.includes(one.toLowerCase())),
          tests,
        )
      }
      const test = textTest(op, wanted)
      return texts(among, [...tests, (one) => test(one) === passes])
    },
    isEmpty: () =>
      among !== null && among.every((one) => tests.some((test) => !test(one.toLowerCase()))),
  }
}

function textTest(op: string, wanted: readonly string[]): TextTest {
  if (op === 'contains') return (value) => value.includes(wanted[0] ?? '')
  if (op === 'startsWith') return (value) => value.startsWith(wanted[0] ?? '')
  return (value) => wanted.includes(value)
}

interface Lists {
  has: readonly string[]
  hasNot: readonly string[]
  /** Of each of these, at least one is in. */
  anyOf: readonly (readonly string[])[]
  /** Of each of these, at least one is not. */
  lacksOneOf: readonly (readonly string[])[]
}

function lists(set: Lists): Domain {
  return {
    narrow: ({ op, value }, passes) => {
      const names = (value as readonly string[]).map((name) => name.toLowerCase())
      if (op === 'hasAll') {
        return passes
          ? lists({ ...set, has: [...set.has, ...names] })
          : lists({ ...set, lacksOneOf: [...set.lacksOneOf, names] })
      }
      return (op === 'hasAny') === passes
        ? lists({ ...set, anyOf: [...set.anyOf, names] })
        : lists({ ...set, hasNot: [...set.hasNot, ...names] })
    },
    isEmpty: () => {
      const has = new Set(set.has)
      const hasNot = new Set(set.hasNot)
      return (
        set.has.some((name) => hasNot.has(name)) ||
        set.anyOf.some((names) => names.every((name) => hasNot.has(name))) ||
        set.lacksOneOf.some((names) => names.every((name) => has.has(name)))
      )
    },
  }
}
