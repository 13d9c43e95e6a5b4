import { describe, expect, test } from 'vitest'
import {
  at,
  beforePayment,
  happened,
  on,
  ordersEver,
  START,
  thanksDefinition,
} from '../../testing/builders.ts'
import { HOUR_MS } from '../shared/duration.ts'
import type { Condition, HistoryCondition } from '../conditions/condition.ts'
import { FIELDS } from '../conditions/fields.ts'
import { conditionWords, YES_NO_WORDS } from './conditions.ts'
import type { LedgerEntry } from '../workflow/ledgerEntry.ts'
import { entryWords } from './decisions.ts'
import type { DateTrigger } from '../workflow/trigger.ts'
import { triggerWords } from './triggers.ts'
import { clockWords, dateWords, durationWords, shortDuration, weekdaysWords } from './quantities.ts'

const context = {
  locale: 'en-IE',
  zone: 'Europe/Lisbon',
  titleOf: (_kind: string, id: string) => (id === 'p1' ? 'Bee brush' : undefined),
}

describe('conditions as words', () => {
  test.each([
    [
      {
        kind: 'field',
        field: 'order.total',
        op: 'gte',
        value: { amountMinor: 1500, currency: 'EUR' },
      },
      'order total is at least €15.00',
    ],
    [
      {
        kind: 'field',
        field: 'order.total',
        op: 'between',
        value: {
          from: { amountMinor: 1, currency: 'EUR' },
          to: { amountMinor: 2, currency: 'EUR' },
        },
      },
      'order total is between €0.01 and €0.02',
    ],
    [
      { kind: 'field', field: 'order.products', op: 'hasAny', value: ['p1', 'p2'] },
      'products ordered include any of Bee brush, p2',
    ],
    [
      { kind: 'field', field: 'order.status', op: 'is', value: 'payment_due' },
      'order status is payment due',
    ],
    [{ kind: 'field', field: 'customer.firstName', op: 'notKnown' }, 'first name is not known'],
    [happened('order.refunded'), 'this order was refunded since entry'],
    [ordersEver(2), 'ordered exactly twice ever'],
    [{ kind: 'not', of: ordersEver(1) }, 'not (ordered exactly once ever)'],
    [
      {
        kind: 'any',
        of: [ordersEver(1), { kind: 'all', of: [ordersEver(2), happened('order.paid')] }],
      },
      'ordered exactly once ever or (ordered exactly twice ever and this order was paid since entry)',
    ],
  ] as const)('%#', (condition, words) => {
    expect(conditionWords(condition as never, context)).toBe(words)
  })
})

describe('what does not hold', () => {
  const field = (key: string, op: string, value?: unknown) =>
    ({ kind: 'field', field: key, op, ...(value !== undefined && { value }) }) as Condition
  const history = (over: Partial<HistoryCondition>): Condition => ({
    ...(happened('order.placed') as HistoryCondition),
    ...over,
  })
  const beeBrush = field('line.product', 'in', ['p1'])

  test.each<[Condition, string]>([
    [field('order.total', 'gte', { amountMinor: 1500, currency: 'EUR' }), 'order total is not at least €15.00'],
    [field('subscription.status', 'in', ['running', 'paused']), 'subscription status is not one of running, paused'],
    [field('order.products', 'hasAny', ['p1']), 'products ordered include none of Bee brush'],
    [field('order.number', 'startsWith', 'B'), 'order number does not start with B'],
    [field('order.placedAt', 'withinLast', 3), 'date of the order was not in the last 3 days'],
    [field('customer.firstName', 'notKnown'), 'first name is known'],
    [field('customer.birthday', 'comesWithin', 3), 'birthday is not in the next 3 days'],
    [field('customer.birthday', 'inMonth', [1, 12]), 'birthday is not in January, December'],
    [field('subscription.automatic', 'is', true), 'does not renew automatically'],
    [field('subscription.automatic', 'is', false), 'renews automatically'],
    [happened('order.refunded'), 'this order was not refunded since entry'],
    [history({ about: 'customer' }), 'no order placed since entry'],
    [history({ about: 'customer', window: { kind: 'lastDays', days: 30 } }), 'no order placed in the last 30 days'],
    [ordersEver(2), 'not (ordered exactly twice ever)'],
    [{ kind: 'lines', on: 'subject', how: 'some', of: [beeBrush] }, 'it contains none of Bee brush'],
    [{ kind: 'lines', on: 'orders', how: 'every', of: [beeBrush] }, 'what they ever ordered does not contain only Bee brush'],
    [{ kind: 'workflows', workflow: 'any', state: 'hasBeen', window: { kind: 'ever' } }, 'has not been in any workflow ever'],
    [{ kind: 'any', of: [ordersEver(1), ordersEver(2)] }, 'not (ordered exactly once ever or ordered exactly twice ever)'],
    [{ kind: 'not', of: ordersEver(1) }, 'ordered exactly once ever'],
  ])('%#', (of, words) => {
    expect(conditionWords({ kind: 'not', of }, context)).toBe(words)
  }) // prettier-ignore

  test('every field of yes and no is said as one would', () => {
    const yesNo = FIELDS.filter(({ type }) => type === 'yesNo')
    expect(yesNo.map(({ key }) => key).toSorted()).toEqual(Object.keys(YES_NO_WORDS).toSorted())
  })
})

describe('ledger entries as sentences', () => {
  const say = (entry: LedgerEntry) => entryWords(entry, thanksDefinition(), context)
  const refunded = {
    kind: 'history' as const,
    event: 'order.refunded' as const,
    about: 'subject' as const,
    count: 1,
    lastAt: at('2026-04-16T08:12:00Z'),
  }

  test.each<[LedgerEntry, string]>([
    [
      { kind: 'left', step: 'thanks1', exclusion: 'refunded', observed: [refunded], before: [] },
      'Left before “thanks1”: order refunded on 16 April, 09:12',
    ],
    [
      { kind: 'skipped', step: 'thanks1', reason: { code: 'noConsent', known: false }, before: [] },
      'Skipped “thanks1”: never agreed to marketing messages',
    ],
    [
      { kind: 'tookBranch', step: 'split', branch: 'first', observed: [] },
      'Took the path “First order”',
    ],
    [
      { kind: 'tookBranch', step: 'split', branch: null, observed: [] },
      'Took the path “Everyone else”',
    ],
    [
      { kind: 'waits', step: 'w1', until: START, reason: { code: 'time' }, zone: 'Europe/Lisbon' },
      'Waits until 14 April, 10:20',
    ],
    [
      {
        kind: 'turnedAway',
        before: [],
        cause: { by: 'event' },
        reason: { code: 'enteredBefore', lastEnteredAt: START },
      },
      'Turned away: entered before, on 14 April, 10:20, and may enter only once',
    ],
    [
      {
        kind: 'turnedAway',
        cause: { by: 'event' },
        before: [],
        reason: { code: 'tooOld', happenedAt: START },
      },
      'Turned away: it happened on 14 April, 10:20, more than 7 days before it arrived',
    ],
    [{ kind: 'entered', cause: { by: 'event' }, observed: [], lateMs: 59_000 }, 'Entered'],
    [
      { kind: 'entered', cause: { by: 'event' }, observed: [], lateMs: 3 * HOUR_MS },
      'Entered, 3 hours late',
    ],
    [
      { kind: 'unsure', step: 'thanks2', resent: false },
      'Unsure whether “thanks2” arrived: the process stopped while sending. A person has to decide',
    ],
    [{ kind: 'stuck', step: null, error: 'x' }, 'Could not go on at “the end”: x'],
  ])('%#', (entry, words) => {
    expect(say(entry)).toBe(words)
  })
  test('of an order without a line that is asked for there is no line to say something of', () => {
    const observed = { kind: 'field' as const, field: 'line.category', value: null }
    const entry: LedgerEntry = {
      kind: 'turnedAway',
      cause: { by: 'event' },
      before: [],
      reason: { code: 'filter', observed: [observed] },
    }
    const perLine = { ...thanksDefinition(), trigger: on('order.placed', { per: 'line' }) }
    expect(entryWords(entry, perLine, context)).toBe('Turned away: the trigger filter holds for no line of the order') // prettier-ignore
    expect(say(entry)).toBe('Turned away: the trigger filter does not hold (category: unknown)')
  })
})

test.each([
  [[2, 3, 4], 'Tue–Thu'],
  [[7, 6], 'Sat, Sun'],
  [[1, 3, 5], 'Mon, Wed, Fri'],
  [[1, 2, 3, 4, 5, 6], 'Mon–Sat'],
  [[1, 2, 3, 4, 5, 7], 'not Sat'],
  [[1, 2, 4, 5, 7], 'not Wed, Sat'],
  [[1, 2, 3, 4, 5, 6, 7], ''],
  [[], ''],
])('weekdays %j', (days, words) => {
  expect(weekdaysWords(days)).toBe(words)
})

test('times and durations', () => {
  expect(dateWords(START, 'Australia/Lord_Howe')).toBe('14 April, 19:50')
  expect(dateWords(START, 'Europe/Lisbon', at('2027-01-01T00:00:00Z'))).toBe('14 April 2026, 10:20')
  expect(clockWords(START, 'Europe/Lisbon')).toBe('Tue 14 Apr 2026 · 10:20')
  expect(durationWords('P1DT2H')).toBe('1 day 2 hours')
  expect(shortDuration('PT90M')).toBe('90 min')
})

test('a date that starts a workflow, and what becomes of one that is nearer', () => {
  const words = (over: Partial<DateTrigger>): string => triggerWords(beforePayment(over), context)
  expect(words({})).toBe('7 days before “next payment”, 09:00 local time')
  expect(words({ zone: 'shop', ifNearer: 'startAtOnce' })).toBe(
    '7 days before “next payment”, 09:00, or at once if it is nearer',
  )
  expect(words({ days: 0 })).toMatch(/^on the day of/)
})
