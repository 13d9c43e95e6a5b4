import fc from 'fast-check'
import type { Condition, LinesCondition } from '../../core/conditions/condition.ts'
import type { EventType } from '../../core/events/eventTypes.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import type { Step } from '../../core/workflow/steps.ts'
import { aDefinition, anEmail, happened, on, ordersEver } from '../builders.ts'

const field = (key: string, op: string, value?: unknown): Condition =>
  ({ kind: 'field', field: key, op, ...(value !== undefined && { value }) }) as Condition
const eur = (amountMinor: number) => ({ amountMinor, currency: 'EUR' })
const category = (name: string) => field('line.category', 'is', name)

const lines = fc
  .record({
    on: fc.constantFrom('subject' as const, 'orders' as const),
    how: fc.constantFrom<LinesCondition['how']>('some', 'every', 'none', 'both'),
    of: fc.uniqueArray(fc.constantFrom('Classes', 'Hives & frames', 'Books'), {
      minLength: 1,
      maxLength: 2,
    }),
  })
  .map((one): Condition => ({ kind: 'lines', ...one, of: one.of.map(category) }))

const test = fc.oneof(
  fc
    .constantFrom<EventType>('order.cancelled', 'order.refunded', 'order.placed', 'order.paid')
    .map(happened),
  fc.integer({ min: 1, max: 3 }).map(ordersEver),
  fc.integer({ min: 1, max: 40 }).map((days): Condition => ({
    kind: 'history',
    event: 'order.placed',
    about: 'customer',
    count: { op: 'atMost', times: 1 },
    window: { kind: 'lastDays', days },
    where: field('order.total', 'gte', eur(4000)),
  })),
  fc.constant<Condition>({
    kind: 'history',
    event: 'review.submitted',
    about: 'customer',
    count: { op: 'atLeast', times: 1 },
    window: { kind: 'ever' },
    where: field('review.stars', 'lte', 3),
  }),
  fc.constantFrom(
    field('order.total', 'gte', eur(3000)),
    field('order.total', 'gte', { amountMinor: 3000, currency: 'CHF' }),
    field('customer.emailConsent', 'is', true),
    field('customer.tags', 'hasAny', ['keen']),
    field('order.status', 'is', 'paid'),
    field('order.placedAt', 'withinLast', 10),
  ),
  lines,
  fc.constantFrom<Condition>(
    { kind: 'messages', did: 'got', workflow: 'any', window: { kind: 'lastDays', days: 5 } },
    { kind: 'workflows', workflow: 'this', state: 'isIn', window: { kind: 'ever' } },
    {
      kind: 'workflows',
      workflow: 'this',
      state: 'hasBeen',
      window: { kind: 'lastDays', days: 9 },
    },
  ),
)

const condition: fc.Arbitrary<Condition> = fc.oneof(
  { weight: 5, arbitrary: test },
  { weight: 1, arbitrary: test.map((of): Condition => ({ kind: 'not', of })) },
  {
    weight: 1,
    arbitrary: test.map((of): Condition => ({ kind: 'segment', segment: 's', name: 'S', of })),
  },
  {
    weight: 1,
    arbitrary: fc
      .tuple(fc.constantFrom('all' as const, 'any' as const), fc.array(test, { maxLength: 3 }))
      .map(([kind, of]): Condition => ({ kind, of })),
  },
)

const durations = fc.constantFrom('PT20M', 'PT1H', 'P1D', 'P7D', 'P1M')
const hours = fc.constantFrom('09:00', '11:00', '18:30')
const weekdays = fc.constantFrom<number[]>([1, 2, 3, 4, 5], [6], [7, 1])

/** A step before it has a key. */
type Shape = (key: () => string) => Step

const leaf: fc.Arbitrary<Shape> = fc.oneof(
  {
    weight: 4,
    arbitrary: fc
      .record({
        purpose: fc.constantFrom('transactional' as const, 'marketing' as const),
        onlyIf: fc.option(condition, { nil: undefined, freq: 3 }),
        onGap: fc.constantFrom(undefined, 'skip' as const),
        body: fc.constantFrom(undefined, 'Code: {{ coupon.code | default: "none" }}'),
      })
      .map(
        ({ purpose, onlyIf, onGap, body }): Shape =>
          (key) =>
            anEmail(key(), {
              purpose,
              ...(onlyIf && { onlyIf }),
              ...(onGap && { onGap }),
              ...(body !== undefined && { body }),
            }),
      ),
  },
  {
    weight: 3,
    arbitrary: durations.map((duration): Shape => (key) => ({
      key: key(),
      kind: 'wait',
      for: duration,
    })),
  },
  {
    weight: 2,
    arbitrary: fc
      .record({
        for: fc.constantFrom('PT0S', 'PT5H', 'P1D', 'P3D'),
        at: hours,
        weekdays: fc.option(weekdays, { nil: undefined }),
        onDay: fc.constantFrom(undefined, true),
      })
      .map(({ for: duration, at, weekdays: days, onDay }): Shape => (key) => ({
        key: key(),
        kind: 'wait',
        for: duration,
        at,
        ...(days && { weekdays: days }),
        ...(onDay && { onDay }),
      })),
  },
  {
    weight: 1,
    arbitrary: fc
      .record({
        fixed: fc.boolean(),
        days: fc.constantFrom('P0D', 'P2D', 'P20D'),
        direction: fc.constantFrom('before' as const, 'after' as const),
        ifPast: fc.constantFrom('goOn' as const, 'skipNext' as const, 'leave' as const),
      })
      .map(({ fixed, days, direction, ifPast }): Shape => (key) => ({
        key: key(),
        kind: 'until',
        until: fixed
          ? { kind: 'fixed', date: '2026-05-01', at: '09:00' }
          : {
              kind: 'field',
              field: 'order.firstDate',
              offset: { direction, duration: days },
              at: '09:00',
            },
        ifPast,
      })),
  },
  {
    weight: 2,
    arbitrary: fc.constantFrom<Shape>(
      (key) => ({ key: key(), kind: 'end' }),
      (key) => ({ key: key(), kind: 'tag', change: 'add', tag: 'keen' }),
      (key) => ({ key: key(), kind: 'tag', change: 'remove', tag: 'keen' }),
      (key) => ({
        key: key(),
        kind: 'coupon',
        name: 'C',
        pattern: 'C-########',
        discount: { kind: 'percent', percent: 10 },
        expiresAfter: 'P1D',
      }),
    ),
  },
)

const shapes = fc.letrec<{ list: Shape[]; step: Shape; branching: Shape }>((tie) => ({
  list: fc.array(tie('step'), { maxLength: 4, depthIdentifier: 'steps' }),
  step: fc.oneof({ maxDepth: 3, depthIdentifier: 'steps' }, leaf, leaf, tie('branching')),
  branching: fc.oneof(
    fc
      .record({
        branches: fc.array(fc.tuple(condition, tie('list')), { minLength: 1, maxLength: 3 }),
        otherwise: tie('list'),
      })
      .map(({ branches, otherwise }): Shape => (key) => ({
        key: key(),
        kind: 'split',
        branches: branches.map(([when, steps]) => ({
          key: key(),
          name: 'Path',
          when,
          steps: steps.map((one) => one(key)),
        })),
        otherwise: otherwise.map((one) => one(key)),
      })),
    fc
      .record({ one: tie('list'), two: tie('list'), weight: fc.nat(3) })
      .map(({ one, two, weight }): Shape => (key) => ({
        key: key(),
        kind: 'experiment',
        name: 'X',
        lottery: `lottery-${weight}`,
        arms: [
          { key: key(), name: 'A', weight: 2, steps: one.map((step) => step(key)) },
          { key: key(), name: 'B', weight, steps: two.map((step) => step(key)) },
          { key: key(), name: 'H', weight: 1, holdout: true, steps: [] },
        ],
      })),
    fc
      .record({
        event: fc.constantFrom<EventType>('order.paid', 'order.placed', 'review.submitted'),
        about: fc.constantFrom('subject' as const, 'customer' as const),
        limit: fc.constantFrom('P1D', 'P9D', 'P1M'),
        came: tie('list'),
        otherwise: tie('list'),
      })
      .map(({ came, otherwise, ...one }): Shape => (key) => ({
        key: key(),
        kind: 'waitFor',
        ...one,
        ...(one.event === 'order.placed' && { where: field('order.total', 'gte', eur(4000)) }),
        came: came.map((step) => step(key)),
        otherwise: otherwise.map((step) => step(key)),
      })),
  ),
}))

const undone = fc
  .constantFrom<EventType>('order.cancelled', 'order.refunded', 'order.paid')
  .map(happened)

/** Workflows of every shape: nested branching steps, empty lists, ends in the middle, waits of every kind. */
export const definitions: fc.Arbitrary<Definition> = fc
  .record({
    list: shapes.list,
    exclusions: fc.array(
      fc.record({
        when: fc.oneof(undone, condition),
        effect: fc.constantFrom('leave' as const, 'skip' as const),
      }),
      { maxLength: 2 },
    ),
    filter: fc.option(condition, { nil: undefined, freq: 2 }),
    perLine: fc.boolean(),
    entry: fc.record({
      rule: fc.constantFrom<Definition['entry']['rule']>(
        { kind: 'every' },
        { kind: 'once' },
        { kind: 'after', duration: 'P7D' },
      ),
      overlap: fc.constantFrom('allow' as const, 'one' as const),
    }),
  })
  .map(({ list, exclusions, filter, perLine, entry }) => {
    let count = 0
    const key = () => `s${(count += 1)}`
    const trigger = perLine
      ? on('order.placed', {
          per: 'line',
          filter: field('line.category', 'in', ['Classes', 'Hives & frames']),
        })
      : on('order.placed', filter && { filter })
    return aDefinition({
      trigger,
      entry,
      steps: list.map((one) => one(key)),
      exclusions: exclusions.map((one) => ({ key: key(), ...one })),
    })
  })
