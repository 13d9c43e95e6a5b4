import fc from 'fast-check'
import type { Condition } from '../core/conditions/condition.ts'
import type { EventType } from '../core/events/eventTypes.ts'
import type { Definition } from '../core/workflow/definition.ts'
import type { Step } from '../core/workflow/steps.ts'
import { aDefinition, anEmail, happened, ordersEver } from './builders.ts'

const condition = fc.oneof(
  fc.constantFrom<EventType>('order.cancelled', 'order.refunded', 'order.placed').map(happened),
  fc.integer({ min: 1, max: 3 }).map(ordersEver),
  fc.constant<Condition>({
    kind: 'field',
    field: 'order.total',
    op: 'gte',
    value: { amountMinor: 3000, currency: 'EUR' },
  }),
  fc.constant<Condition>({ kind: 'field', field: 'customer.emailConsent', op: 'is', value: true }),
)

type Shape =
  | { kind: 'wait'; for: string }
  | { kind: 'email' }
  | { kind: 'end' }
  | { kind: 'split'; branches: { when: Condition; steps: Shape[] }[]; otherwise: Shape[] }

const shapes = fc.letrec<{ list: Shape[]; step: Shape }>((tie) => ({
  list: fc.array(tie('step'), { maxLength: 4, depthIdentifier: 'steps' }),
  step: fc.oneof(
    { maxDepth: 3, depthIdentifier: 'steps' },
    fc.constantFrom<Shape>({ kind: 'email' }),
    fc
      .constantFrom('PT20M', 'PT1H', 'P1D', 'P7D', 'P1M')
      .map((duration): Shape => ({ kind: 'wait', for: duration })),
    fc.record({
      kind: fc.constant('split' as const),
      branches: fc.array(fc.record({ when: condition, steps: tie('list') }), {
        minLength: 1,
        maxLength: 3,
      }),
      otherwise: tie('list'),
    }),
    fc.constant<Shape>({ kind: 'end' }),
  ),
})).list

/** Gives every step and branch a key of its own, in reading order. */
function keyed(list: readonly Shape[], next: () => string): Step[] {
  return list.map((shape): Step => {
    const key = next()
    if (shape.kind === 'email') return anEmail(key)
    if (shape.kind === 'wait') return { key, kind: 'wait', for: shape.for }
    if (shape.kind === 'end') return { key, kind: 'end' }
    return {
      key,
      kind: 'split',
      branches: shape.branches.map(({ when, steps }) => ({
        key: next(),
        name: 'Path',
        when,
        steps: keyed(steps, next),
      })),
      otherwise: keyed(shape.otherwise, next),
    }
  })
}

/** Workflows of every shape: nested splits, empty lists, ends in the middle. */
export const definitions: fc.Arbitrary<Definition> = fc
  .tuple(
    shapes,
    fc.array(
      fc.record({ when: condition, effect: fc.constantFrom('leave' as const, 'skip' as const) }),
      { maxLength: 2 },
    ),
  )
  .map(([list, exclusions]) => {
    let count = 0
    const next = () => `s${(count += 1)}`
    const steps = keyed(list, next)
    return aDefinition({ steps, exclusions: exclusions.map((one) => ({ key: next(), ...one })) })
  })
