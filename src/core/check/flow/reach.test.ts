import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { facts } from '../../../testing/coreFacts.ts'
import { aDefinition, anEmail, happened, on, ordersEver, wait } from '../../../testing/builders.ts'
import { compileCondition } from '../../conditions/compile.ts'
import type { Condition } from '../../conditions/condition.ts'
import type { SplitBranch, Step } from '../../workflow/steps.ts'
import { reachFindings } from './reachFindings.ts'
import { arePossible } from '../reasoning/possible.ts'

const total = (op: string, amountMinor: number, currency = 'EUR'): Condition => ({
  kind: 'field',
  field: 'order.total',
  op,
  value: { amountMinor, currency },
})
const country = (op: string, value?: string | string[]): Condition => ({
  kind: 'field',
  field: 'customer.country',
  op,
  ...(value !== undefined && { value }),
})
const categories = (op: string, ...value: string[]): Condition => ({
  kind: 'field',
  field: 'order.categories',
  op,
  value,
})
const born = (op: string, value?: number | number[]): Condition => ({
  kind: 'field',
  field: 'customer.birthday',
  op,
  ...(value !== undefined && { value }),
})
const not = (of: Condition): Condition => ({ kind: 'not', of })
const all = (...of: Condition[]): Condition => ({ kind: 'all', of })
const any = (...of: Condition[]): Condition => ({ kind: 'any', of })
const times = (op: 'atLeast' | 'atMost' | 'exactly', count: number, days?: number): Condition => ({
  kind: 'history',
  event: 'order.placed',
  about: 'customer',
  count: { op, times: count },
  window: days === undefined ? { kind: 'ever' } : { kind: 'lastDays', days },
})
const trigger = on('order.placed')
const possible = (condition: Condition) => arePossible([{ condition, holds: true }], trigger)

describe('what can be true at once', () => {
  test.each<[string, Condition, boolean]>([
    ['amounts that meet', all(total('gte', 5000), total('lt', 5001)), true],
    ['amounts that do not', all(total('gte', 5000), total('lt', 5000)), false],
    ['a gap between two amounts', all(total('gt', 10), total('lt', 11)), false],
    ['two currencies at once', all(total('gte', 1), total('gte', 1, 'GBP')), false],
    ['not so much in one currency, so in another', all(not(total('gte', 1)), total('gte', 1, 'GBP')), true],
    ['a known total is on one side or the other', all(not(total('gte', 100)), not(total('lt', 100)), not(total('gte', 0, 'GBP')), not(total('lt', 0, 'GBP'))), true],
    ['one of two countries that is a third', all(country('in', ['PT', 'ES']), country('is', 'fr')), false],
    ['a country in two cases', all(country('is', 'PT'), country('is', 'pt')), true],
    ['neither in nor out: unknown', all(not(country('is', 'PT')), not(not(country('is', 'PT')))), false],
    ['not Portugal and yet starting so', all(country('is', 'PT'), not(country('startsWith', 'p'))), false],
    ['unknown and equal to something', all(country('notKnown'), country('is', 'PT')), false],
    ['unknown, and so not equal', all(country('notKnown'), not(country('is', 'PT'))), true],
    ['both categories, and none of one of them', all(categories('hasAll', 'Hives', 'Feed'), categories('hasNone', 'Feed')), false],
    ['any of two without one of them', all(categories('hasAny', 'Hives', 'Feed'), categories('hasNone', 'Feed')), true],
    ['any of two without either', all(categories('hasAny', 'Hives', 'Feed'), not(categories('hasAny', 'Feed', 'Hives'))), false],
    ['born in one month and in another', all(born('inMonth', [1]), born('inMonth', [2, 3])), false],
    ['born in one of two months that is a third', all(born('inMonth', [1, 2]), born('inMonth', [2, 3])), true],
    ['a birthday today that is not in the next days', all(born('isToday'), not(born('comesWithin', 3))), false],
    ['a birthday in the next days, and in the last: today', all(born('comesWithin', 3), born('wasWithin', 3)), true],
    ['first and second order', all(ordersEver(1), ordersEver(2)), false],
    ['fewer than none', not(times('atLeast', 0)), false],
    ['more in thirty days than ever', all(times('atLeast', 3, 30), times('atMost', 2)), false],
    ['more ever than in thirty days', all(times('atMost', 2, 30), times('atLeast', 3)), true],
    ['more in a week than in a month', all(times('atLeast', 3, 7), times('atMost', 2, 30)), false],
    ['either of two that cannot be', any(all(ordersEver(1), ordersEver(2)), all(total('gt', 5), total('lt', 5))), false],
    ['the same test, so and not so', all(happened('order.refunded'), not(happened('order.refunded'))), false],
  ])('%s', (_name, condition, expected) => {
    expect(possible(condition)).toBe(expected)
  }) // prettier-ignore

  const atoms = fc.oneof(
    fc.constantFrom('gte', 'gt', 'lte', 'lt', 'eq', 'ne').chain((op) =>
      fc.constantFrom('EUR', 'GBP').chain((currency) => fc.integer({ min: 0, max: 4 }).map((n) => total(op, n, currency))),
    ),
    fc.constantFrom('is', 'contains', 'startsWith').chain((op) => fc.constantFrom('pt', 'PT', 'p', 't').map((value) => country(op, value))),
    fc.subarray(['PT', 'ES', 'FI']).map((value) => country('in', value)),
    fc.constantFrom('known', 'notKnown').map((op) => country(op)),
    fc.constantFrom('hasAny', 'hasAll', 'hasNone').chain((op) => fc.subarray(['A', 'B', 'C']).map((value) => categories(op, ...value))),
    fc.constantFrom('atLeast' as const, 'atMost' as const, 'exactly' as const).chain((op) =>
      fc.tuple(fc.integer({ min: 0, max: 3 }), fc.constantFrom(undefined, 7, 30)).map(([n, days]) => times(op, n, days)),
    ),
  ) // prettier-ignore
  const { condition: conditions } = fc.letrec<{ condition: Condition }>((tie) => ({
    condition: fc.oneof(
      { maxDepth: 3, depthSize: 'small' },
      atoms,
      tie('condition').map(not),
      fc.array(tie('condition'), { maxLength: 3 }).map((of) => all(...of)),
      fc.array(tie('condition'), { maxLength: 3 }).map((of) => any(...of)),
    ),
  }))
  const someFacts = fc
    .record({
      totalMinor: fc.integer({ min: 0, max: 4 }),
      currency: fc.constantFrom('EUR', 'GBP', 'JPY'),
      country: fc.constantFrom(null, 'PT', 'ES', 'FI', 'ATP'),
      names: fc.subarray(['A', 'B', 'C']),
      daysAgo: fc.array(fc.constantFrom(1, 10, 100), { maxLength: 4 }),
    })
    .map(({ totalMinor, currency, country: land, names, daysAgo }) => {
      const base = facts()
      const [line] = base.order?.lines ?? []
      const lines = line ? names.map((category) => ({ ...line, category })) : []
      return facts({
        order: { totalMinor, currency, lines },
        customer: { country: land },
        history: daysAgo.map((days) => ({
          type: 'order.placed',
          at: base.now - days * 86_400_000,
          subjectId: 'o1',
        })),
      })
    })

  test('whatever is true of somebody is possible (property)', () => {
    fc.assert(
      fc.property(conditions, someFacts, (condition, one) => {
        const holds = compileCondition(condition).holds({ facts: one, enteredAt: one.now })
        expect(arePossible([{ condition, holds }], trigger)).toBe(true)
      }),
      { numRuns: 5000 },
    )
  })
})

describe('what the check says', () => {
  const path = (
    key: string,
    when: Condition,
    steps: Step[] = [anEmail(`${key}-mail`)],
  ): SplitBranch => ({ key, name: key, when, steps })
  const codes = (branches: SplitBranch[], otherwise: Step[] = [], filter?: Condition) =>
    reachFindings(
      aDefinition({
        trigger: on('order.placed', filter && { filter }),
        steps: [{ key: 's', kind: 'split', branches, otherwise }],
      }),
    ).map(({ code, place }) => [code, 'branch' in place ? place.branch : place.kind]) // prettier-ignore

  test('a path that contradicts itself, one that others take, one that the filter shuts', () => {
    expect(codes([path('a', all(total('gt', 5), total('lt', 5)))])).toEqual([['path-contradiction', 'a']])
    expect(codes([path('large', total('gte', 50)), path('larger', total('gte', 100))])).toEqual([['path-taken', 'larger']])
    expect(codes([path('large', total('gte', 50))], [], total('lt', 50))).toEqual([['path-unreachable', 'large']])
    expect(codes([path('larger', total('gte', 100)), path('large', total('gte', 50))])).toEqual([])
  }) // prettier-ignore
  test('nobody is left for everyone else', () => {
    const both = [path('has', categories('hasAny', 'A')), path('hasNot', categories('hasNone', 'A'))]
    expect(codes(both, [anEmail('other')])).toEqual([['nobody-else', null]])
    expect(codes(both)).toEqual([])
  }) // prettier-ignore
  test('after a wait only what cannot change is still known', () => {
    const inner = (when: Condition): Step => ({ key: 'i', kind: 'split', branches: [path('x', when)], otherwise: [] })
    const later = (first: Condition, second: Condition) => codes([path('a', first, [wait('w', 'P1D'), inner(second)])])
    expect(later(total('gte', 50), total('lt', 50))).toEqual([['path-unreachable', 'x']])
    expect(later(times('atMost', 1), times('atLeast', 2))).toEqual([])
    expect(codes([path('a', times('atMost', 1), [inner(times('atLeast', 2))])])).toEqual([['path-unreachable', 'x']])
  }) // prettier-ignore
  test('a message that nobody on its path can get', () => {
    const mail = anEmail('m', { onlyIf: total('lt', 50) })
    expect(codes([path('a', total('gte', 50), [wait('w', 'P1D'), mail])])).toEqual([['never-sent', 'step']])
  }) // prettier-ignore
  test('a filter that contradicts itself, or meets an exclusion that asks the same', () => {
    expect(codes([], [], all(total('gt', 5), total('lt', 5)))).toEqual([['filter-contradiction', 'trigger']])
    const excluded = aDefinition({
      trigger: on('order.placed', { filter: total('gte', 50) }),
      exclusions: [{ key: 'x', when: total('gte', 40), effect: 'leave' }],
    })
    expect(reachFindings(excluded).map(({ code }) => code)).toEqual(['all-excluded'])
    const skips = aDefinition({
      trigger: on('order.placed', { filter: total('gte', 50) }),
      exclusions: [{ key: 'x', when: total('gte', 40), effect: 'skip' }],
    })
    expect(reachFindings(skips).map(({ code }) => code)).toEqual(['never-sent'])
  }) // prettier-ignore
  test('a message on a path that asks for what an exclusion forbids', () => {
    const exclusions = [{ key: 'x', when: happened('order.placed'), effect: 'leave' as const }]
    const found = (...steps: Step[]) =>
      reachFindings(aDefinition({ exclusions, steps })).map(({ code, place }) => [code, 'key' in place ? place.key : place.kind])
    const split = (when: Condition): Step => ({ key: 's', kind: 'split', branches: [path('b', when)], otherwise: [anEmail('o')] })
    expect(found(wait('w', 'P1D'), split(happened('order.placed')))).toEqual([['never-sent', 'b-mail']])
    expect(found(wait('w', 'P1D'), split(happened('order.paid')))).toEqual([])
    // It stays so, however long one waits after it.
    const later: Step = { key: 's', kind: 'split', branches: [path('b', happened('order.placed'), [wait('v', 'P9D'), anEmail('late')])], otherwise: [] }
    expect(found(wait('w', 'P1D'), later)).toEqual([['never-sent', 'late']])
  }) // prettier-ignore
  test('what is awaited and makes people leave', () => {
    const exclusions = [{ key: 'x', when: happened('order.paid'), effect: 'leave' as const }]
    const waitFor: Step = { key: 'f', kind: 'waitFor', event: 'order.paid', about: 'subject', limit: 'P3D', came: [anEmail('paid')], otherwise: [anEmail('not')] }
    const found = reachFindings(aDefinition({ exclusions, steps: [waitFor] }))
    expect(found.map(({ place }) => place)).toEqual([{ kind: 'step', key: 'paid' }])
    expect(reachFindings(aDefinition({ steps: [waitFor] }))).toEqual([])
  }) // prettier-ignore
  test('how often something has happened never grows less', () => {
    const inner = (when: Condition): Step => ({ key: 'i', kind: 'split', branches: [path('x', when)], otherwise: [] })
    const later = (first: Condition, second: Condition) => codes([path('a', first, [wait('w', 'P1D'), inner(second)])])
    expect(later(ordersEver(2), ordersEver(1))).toEqual([['path-unreachable', 'x']])
    expect(later(ordersEver(2), ordersEver(3))).toEqual([])
    expect(later(not(times('atMost', 1)), times('atMost', 1))).toEqual([['path-unreachable', 'x']])
    expect(later(times('atLeast', 2, 30), times('atMost', 1, 30))).toEqual([])
  }) // prettier-ignore
})
