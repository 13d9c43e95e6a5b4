import { expect, test } from 'vitest'
import type { Condition } from '../conditions/condition.ts'
import { findWitness } from '../rehearsal/witness.ts'
import { aSubject } from '../../testing/aSubject.ts'
import { facts } from '../../testing/coreFacts.ts'
import { aDefinition, anEmail, on } from '../../testing/builders.ts'
import { nobodyReaches } from './nobodyReaches.ts'

const total = (op: 'gte' | 'lte', amount: number): Condition => ({
  kind: 'field',
  field: 'order.total',
  op,
  value: { amountMinor: amount, currency: 'EUR' },
})
const both = (...of: Condition[]): Condition => ({ kind: 'all', of })
const definition = aDefinition({
  trigger: on('order.placed', { filter: total('gte', 1000) }),
  exclusions: [
    { key: 'odd', when: both(total('gte', 9000), total('lte', 8000)), effect: 'leave' },
    { key: 'large', when: total('gte', 90_000), effect: 'leave' },
  ],
  steps: [
    {
      key: 's',
      kind: 'split',
      branches: [
        { key: 'many', name: 'Many', when: total('gte', 5000), steps: [anEmail('a')] },
        { key: 'more', name: 'More', when: total('gte', 6000), steps: [anEmail('b')] },
        { key: 'small', name: 'Small', when: total('lte', 500), steps: [anEmail('c')] },
      ],
      otherwise: [anEmail('d')],
    },
  ],
})
const start = aSubject({ lines: [{ productId: 'p1', title: 'Hive', category: null, quantity: 1, unitPriceMinor: 2000 }] }) // prettier-ignore
const way = (branch: string | null) => ({ kind: 'way', step: 's', branch }) as const

test.each([
  [way('more'), /paths above it take them all/],
  [way('small'), /^Nobody who gets here can take the path “Small”/],
  [{ kind: 'exclusion', key: 'odd' } as const, /contradicts itself/],
])('%#: where nobody can, that is proved, and nobody is found', (target, words) => {
  expect(nobodyReaches(definition, target)).toMatch(words)
  const search = findWitness({ definition, target, start, products: start.lines, shop: facts().shop, mostTries: 400 }) // prettier-ignore
  let step = search.next()
  while (!step.done) step = search.next()
  expect(step.value).toBeNull()
})

test.each([[way('many')], [way(null)], [{ kind: 'exclusion', key: 'large' } as const]])(
  '%#: where somebody can, nothing is said against it',
  (target) => {
    expect(nobodyReaches(definition, target)).toBeNull()
  },
)

test('where nobody can enter, no path is taken', () => {
  const filter = both(total('gte', 9000), total('lte', 8000))
  const shut = { ...definition, trigger: on('order.placed', { filter }) }
  expect(nobodyReaches(shut, way('many'))).toMatch(/^Nobody can enter/)
})
