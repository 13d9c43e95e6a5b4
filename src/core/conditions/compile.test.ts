import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { aLine, facts, past } from '../../testing/coreFacts.ts'
import { START } from '../../testing/builders.ts'
import { DAY_MS } from '../shared/duration.ts'
import { compileCondition } from './compile.ts'
import { conditionSchema, type Condition, type HistoryCondition } from './condition.ts'
import { FIELDS } from './fields.ts'
import { OPERATORS } from './operators.ts'

const eur = (amountMinor: number) => ({ amountMinor, currency: 'EUR' })
const field = (key: string, op: string, value?: unknown): Condition =>
  ({ kind: 'field', field: key, op, ...(value === undefined ? {} : { value }) }) as Condition

const holds = (
  condition: Condition,
  over: Parameters<typeof facts>[0] = {},
  enteredAt = START,
): boolean => compileCondition(condition).holds({ facts: facts(over), enteredAt })

describe('money', () => {
  test.each([
    ['gte', 4200, true], ['gte', 4201, false], ['gt', 4200, false], ['gt', 4199, true],
    ['lte', 4200, true], ['lt', 4200, false], ['eq', 4200, true], ['ne', 4200, false],
  ] as const)('4200 %s %i', (op, minor, expected) => {
    expect(holds(field('order.total', op, eur(minor)))).toBe(expected)
  }) // prettier-ignore

  test('is never compared across currencies, in either direction', () => {
    for (const op of ['gte', 'lt', 'eq', 'ne']) {
      expect(holds(field('order.total', op, { amountMinor: 1, currency: 'JPY' }))).toBe(false)
    }
  })

  test('between includes both ends', () => {
    expect(holds(field('order.total', 'between', { from: eur(4200), to: eur(5000) }))).toBe(true)
    expect(holds(field('order.total', 'between', { from: eur(4000), to: eur(4200) }))).toBe(true)
    expect(holds(field('order.total', 'between', { from: eur(4000), to: eur(4199) }))).toBe(false)
    expect(holds(field('order.total', 'between', { from: eur(4201), to: eur(5000) }))).toBe(false)
  })
})

describe('texts and lists', () => {
  const order = {
    lines: [
      aLine({ productId: 'p1', title: 'Hive', category: 'Hives & frames', quantity: 1 }),
      aLine({ productId: 'p2', title: 'Suit', category: 'Protective wear', quantity: 3 }),
    ],
  }
  test.each([
    [field('order.categories', 'hasAny', ['Books', 'Hives & frames']), true],
    [field('order.categories', 'hasAll', ['Books', 'Hives & frames']), false],
    [field('order.categories', 'hasAll', ['Protective wear', 'Hives & frames']), true],
    [field('order.categories', 'hasNone', ['Books']), true],
    [field('order.products', 'hasAny', ['p3']), false],
    [field('order.items', 'eq', 4), true],
    [field('order.shippingCountry', 'is', 'pt'), true],
    [field('order.shippingCountry', 'in', ['DE', 'PT']), true],
    [field('customer.email', 'contains', 'EXAMPLE'), true],
    [field('customer.firstName', 'startsWith', 'in'), true],
    [field('order.status', 'is', 'paid'), false],
    [field('customer.emailConsent', 'is', true), true],
  ])('%j', (condition, expected) => {
    expect(holds(condition, { order })).toBe(expected)
  })
})

describe('unknown values', () => {
  const unknown = { customer: { firstName: null, emailConsent: null, country: null } }
  test.each([
    [field('customer.firstName', 'is', 'Ines'), false],
    [field('customer.firstName', 'known'), false],
    [field('customer.firstName', 'notKnown'), true],
    [field('customer.emailConsent', 'is', false), false],
    [field('customer.country', 'in', ['PT']), false],
  ])('%j', (condition, expected) => {
    expect(holds(condition, unknown)).toBe(expected)
    expect(holds({ kind: 'not', of: condition }, unknown)).toBe(!expected)
  })
  test('of an unknown list nothing can be said, not even what is not in it', () => {
    const nothing = { order: null }
    expect(holds(field('order.categories', 'hasNone', ['Books']), nothing)).toBe(false)
    expect(holds(field('order.categories', 'notKnown'), nothing)).toBe(true)
  })
  test('a field of an order is unknown where there is no order', () => {
    expect(holds(field('order.total', 'lt', eur(1e9)), { order: null })).toBe(false)
  })
})

describe('dates', () => {
  const now = Date.parse('2026-04-14T12:00:00Z')
  const asked = (op: string, value: unknown, placedAt: number) =>
    holds(field('order.placedAt', op, value), { now, order: { placedAt } })

  test('the last and the next N days are N times 24 hours, both ends included', () => {
    expect(asked('withinLast', 2, now)).toBe(true)
    expect(asked('withinLast', 2, now - 2 * DAY_MS)).toBe(true)
    expect(asked('withinLast', 2, now - 2 * DAY_MS - 1)).toBe(false)
    expect(asked('withinLast', 2, now + 1)).toBe(false)
    expect(asked('withinNext', 2, now)).toBe(true)
    expect(asked('withinNext', 2, now + 2 * DAY_MS)).toBe(true)
    expect(asked('withinNext', 2, now + 2 * DAY_MS + 1)).toBe(false)
    expect(asked('withinNext', 2, now - 1)).toBe(false)
  })
  test('before and after a day leave all of the day out, by the shop’s calendar', () => {
    // The 14th of April begins an hour before midnight UTC in Lisbon, and ends so.
    const [begins, ends] = ['2026-04-13T23:00:00Z', '2026-04-14T23:00:00Z'].map(Date.parse) as [number, number] // prettier-ignore
    expect(asked('before', '2026-04-14', begins - 1)).toBe(true)
    expect(asked('before', '2026-04-14', begins)).toBe(false)
    expect(asked('after', '2026-04-14', begins)).toBe(false)
    expect(asked('after', '2026-04-14', ends - 1)).toBe(false)
    expect(asked('after', '2026-04-14', ends)).toBe(true)
  })
  test('weekdays are those of the shop', () => {
    // A Monday evening in UTC, the first half hour of Tuesday in Lisbon.
    const at = Date.parse('2026-04-13T23:30:00Z')
    expect(asked('onWeekday', [2], at)).toBe(true)
    expect(asked('onWeekday', [1], at)).toBe(false)
  })
})

describe('days of the year', () => {
  const born = (birthday: string | null) => ({ customer: { birthday } })
  test.each([
    ['04-16', 'comesWithin', 1, true],
    ['04-17', 'comesWithin', 1, false],
    ['04-14', 'wasWithin', 1, true],
    ['04-13', 'wasWithin', 1, false],
    ['04-15', 'comesWithin', 1, true],
    ['04-15', 'wasWithin', 1, true],
    ['04-15', 'isToday', undefined, true],
    ['04-16', 'isToday', undefined, false],
    ['12-31', 'inMonth', [1, 12], true],
    ['11-30', 'inMonth', [1, 12], false],
  ] as const)('%s %s %j is %s on 15 April', (birthday, op, value, expected) => {
    const now = Date.UTC(2026, 3, 15, 12)
    expect(holds(field('customer.birthday', op, value), { ...born(birthday), now })).toBe(expected)
  })
  test('it is today where the shop is', () => {
    const now = Date.parse('2026-04-14T23:30:00Z')
    expect(holds(field('customer.birthday', 'isToday'), { ...born('04-15'), now })).toBe(true)
    expect(holds(field('customer.birthday', 'isToday'), { ...born('04-14'), now })).toBe(false)
  })
  test('an unknown one passes no test', () => {
    expect(holds(field('customer.birthday', 'comesWithin', 366), born(null))).toBe(false)
    expect(holds(field('customer.birthday', 'notKnown'), born(null))).toBe(true)
  })
  test('there is no thirteenth month, and no eighth day of the week', () => {
    for (const [key, op, value] of [
      ['customer.birthday', 'inMonth', [13]],
      ['order.placedAt', 'onWeekday', [8]],
    ] as const) {
      expect(conditionSchema.safeParse(field(key, op, value)).success).toBe(false)
    }
  })
})

describe('history', () => {
  const counted = (over: Partial<HistoryCondition>): HistoryCondition => ({
    kind: 'history',
    event: 'order.placed',
    about: 'customer',
    count: { op: 'atLeast', times: 1 },
    window: { kind: 'ever' },
    ...over,
  })
  const history = [
    past('order.placed', START - 40 * DAY_MS, 'o0'),
    past('order.placed', START, 'o1'),
    past('order.placed', START + DAY_MS, 'o2'),
    past('order.refunded', START + DAY_MS, 'o1'),
    past('order.placed', START + 9 * DAY_MS, 'future'),
  ]
  const later = { history, now: START + 2 * DAY_MS }

  test('ever counts up to the moment of asking, the triggering event included', () => {
    expect(holds(counted({ count: { op: 'exactly', times: 3 } }), later)).toBe(true)
    expect(holds(counted({ count: { op: 'exactly', times: 2 } }), { history, now: START })).toBe(
      true,
    )
  })
  test('since entry never counts the triggering event', () => {
    const since = counted({ window: { kind: 'sinceEntry' } })
    expect(holds(since, { history, now: START })).toBe(false)
    expect(holds(since, later)).toBe(true)
    expect(
      holds(counted({ window: { kind: 'sinceEntry' }, count: { op: 'exactly', times: 1 } }), later),
    ).toBe(true)
  })
  test('the last N days are N times 24 hours, the edge included', () => {
    const last = (days: number) =>
      counted({ window: { kind: 'lastDays', days }, count: { op: 'exactly', times: 1 } })
    // Two orders since: the one exactly two days ago, and that of a day ago.
    expect(holds(last(2), later)).toBe(false)
    expect(holds(last(2), { ...later, now: later.now + 1 })).toBe(true)
    expect(holds(last(1), later)).toBe(true)
    expect(
      holds(
        counted({ window: { kind: 'lastDays', days: 42 }, count: { op: 'atLeast', times: 4 } }),
        later,
      ),
    ).toBe(false)
  })
  test('between dates: whole days of the shop’s calendar, both ends included, and nothing that is to come', () => {
    const at = (text: string) => past('order.placed', Date.parse(text))
    const between = (now: string, ...events: string[]) =>
      compileCondition(counted({ window: { kind: 'between', from: '2026-04-01', to: '2026-04-10' } })).observe({
        facts: facts({ history: events.map(at), now: Date.parse(now) }),
        enteredAt: START,
      })[0]
    // Lisbon is an hour ahead of UTC in April.
    const edges = ['2026-03-31T22:59:59Z', '2026-03-31T23:00:00Z', '2026-04-10T22:59:59Z', '2026-04-10T23:00:00Z']
    expect(between('2026-05-01T00:00:00Z', ...edges)).toMatchObject({ count: 2, lastAt: Date.parse('2026-04-10T22:59:59Z') })
    expect(between('2026-04-05T12:00:00Z', '2026-04-05T12:00:00Z', '2026-04-05T12:00:01Z')).toMatchObject({ count: 1 })
  }) // prettier-ignore
  test('about this order only', () => {
    const refund = counted({
      event: 'order.refunded',
      about: 'subject',
      window: { kind: 'sinceEntry' },
    })
    expect(holds(refund, later)).toBe(true)
    expect(holds(refund, { ...later, order: { id: 'o2' } })).toBe(false)
  })
  test('at most, and zero', () => {
    expect(
      holds(counted({ event: 'order.cancelled', count: { op: 'atMost', times: 0 } }), later),
    ).toBe(true)
    expect(
      holds(counted({ event: 'order.cancelled', count: { op: 'exactly', times: 0 } }), later),
    ).toBe(true)
  })
  test('what was counted is observed for the ledger', () => {
    const compiled = compileCondition(counted({ event: 'order.refunded' }))
    expect(compiled.observe({ facts: facts(later), enteredAt: START })).toEqual([
      {
        kind: 'history',
        event: 'order.refunded',
        about: 'customer',
        count: 1,
        lastAt: START + DAY_MS,
      },
    ])
    expect([...compiled.needs.events.keys()]).toEqual(['order.refunded'])
  })
})

test('what was observed is judged part by part, though one has failed already', () => {
  const group = (kind: 'all' | 'any', ...of: Condition[]): Condition => ({ kind, of })
  const fails = field('order.total', 'gte', eur(1e9))
  const passes = field('order.total', 'gte', eur(1))
  const named = field('customer.firstName', 'known')
  for (const condition of [
    group('any', group('all', fails, named), field('customer.country', 'is', 'PT')),
    group('all', group('any', passes, named), field('customer.country', 'is', 'PT')),
  ]) {
    const compiled = compileCondition(condition)
    const seen = compiled.observe({ facts: facts(), enteredAt: START })
    const recall = () => seen.shift() ?? { kind: 'field' as const, field: '', value: null }
    expect(compiled.judge(recall, { now: START, zone: 'UTC' })).toBe(true)
    expect(seen).toEqual([])
  }
})

test('groups follow the laws of logic (property)', () => {
  const leaf = fc.constantFrom<Condition>(
    field('order.total', 'gte', eur(4000)),
    field('order.total', 'lt', eur(100)),
    field('customer.firstName', 'is', 'Nobody'),
    field('customer.emailConsent', 'is', true),
  )
  const tree = fc.letrec<{ node: Condition }>((tie) => ({
    node: fc.oneof(
      { maxDepth: 3 },
      leaf,
      fc.record({
        kind: fc.constantFrom('all' as const, 'any' as const),
        of: fc.array(tie('node'), { maxLength: 3 }),
      }),
      fc.record({ kind: fc.constant('not' as const), of: tie('node') }),
    ),
  })).node
  const not = (of: Condition): Condition => ({ kind: 'not', of })
  fc.assert(
    fc.property(tree, tree, (a, b) => {
      expect(holds(not(not(a)))).toBe(holds(a))
      // De Morgan.
      expect(holds(not({ kind: 'all', of: [a, b] }))).toBe(
        holds({ kind: 'any', of: [not(a), not(b)] }),
      )
      expect(conditionSchema.safeParse(a).success).toBe(true)
    }),
  )
})

describe('the document schema', () => {
  test.each([
    [field('order.weight', 'gte', 1), ['field']],
    [field('order.total', 'contains', 'x'), ['op']],
    [field('order.total', 'gte', 5), ['value']],
    [field('order.status', 'is', 'eaten'), ['value']],
    [field('customer.firstName', 'known', 'x'), ['value']],
  ])('%j is refused at %j', (condition, path) => {
    const result = conditionSchema.safeParse(condition)
    expect(result.success).toBe(false)
    expect(result.error?.issues.map((issue) => issue.path)).toContainEqual(path)
  })
  test('every operator that a field offers compiles and answers', () => {
    for (const { key, type, choices } of FIELDS) {
      for (const { op, operand } of OPERATORS[type]) {
        const one = {
          money: eur(1),
          number: 1,
          text: 'a',
          choice: Object.keys(choices ?? {})[0],
          yesNo: true,
          list: 'a',
          date: '2026-05-09',
          yearDay: '05-09',
        }[type]
        const value = {
          none: undefined,
          one,
          many: [one],
          range: { from: one, to: one },
          days: 30,
          weekdays: [1, 7],
          months: [1, 12],
        }[operand]
        expect(conditionSchema.safeParse(field(key, op, value)).success, `${key} ${op}`).toBe(true)
        expect(typeof holds(field(key, op, value))).toBe('boolean')
      }
    }
  })
})
