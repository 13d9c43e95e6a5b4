import fc from 'fast-check'
import { expect, test } from 'vitest'
import { aDefinition, anEmail, ordersEver, wait } from '../../testing/builders.ts'
import { definitions } from '../../testing/model/arbitraries.ts'
import type { Definition } from '../workflow/definition.ts'
import { withLists, listsOf } from '../workflow/lists.ts'
import { isBranching, isMessage, type Step } from '../workflow/steps.ts'
import { layoutTimetable } from './layout.ts'
import { sameLayout } from './sameLayout.ts'

/** Every message with another subject or text. */
const reworded = (steps: readonly Step[]): Step[] =>
  steps.map((step) => {
    if (isMessage(step)) return { ...step, name: 'Another', body: 'Other words' }
    return isBranching(step) ? withLists(step, reworded) : step
  })

test('other words in messages move nothing (property)', () => {
  fc.assert(
    fc.property(definitions, (definition) => {
      expect(sameLayout(definition.steps, reworded(definition.steps))).toBe(true)
    }),
  )
})

test('what is said to be laid out alike is laid out alike (property)', () => {
  // Small changes of one workflow, so that both answers come up often.
  const changed = (definition: Definition, at: number, how: number): Step[] => {
    const change = (step: Step): Step => {
      if (step.kind === 'wait') return { ...step, for: how % 2 === 0 ? 'P2D' : step.for }
      if (step.kind === 'split' && how % 2 === 0) {
        return { ...step, branches: step.branches.map((one) => ({ ...one, when: ordersEver(9) })) }
      }
      if (step.kind === 'experiment') return { ...step, name: 'Another experiment' }
      return isBranching(step)
        ? withLists(step, (inner) => inner.slice(how % 3 === 0 ? 1 : 0))
        : step
    }
    const list = definition.steps.map((step, index) => (index === at ? change(step) : step))
    return how === 5 ? list.toReversed() : list
  }
  let alike = 0
  fc.assert(
    fc.property(definitions, fc.nat(4), fc.nat(5), (definition, at, how) => {
      const steps = changed(definition, at, how)
      fc.pre(sameLayout(definition.steps, steps))
      alike += 1
      expect(layoutTimetable({ ...definition, steps })).toEqual(layoutTimetable(definition))
    }),
    { numRuns: 300 },
  )
  expect(alike).toBeGreaterThan(0)
})

test('another moment, another name of a path and another order are seen', () => {
  const split: Step = {
    key: 's',
    kind: 'split',
    branches: [{ key: 'b', name: 'B', when: ordersEver(1), steps: [] }],
    otherwise: [],
  }
  const [first] = listsOf(split)
  const base = aDefinition({ steps: [wait('w', 'P1D'), anEmail('m'), split] }).steps
  const renamed = { ...split, branches: [{ ...split.branches[0], name: 'C' }] } as Step
  expect(first?.name).toBe('B')
  expect(sameLayout(base, [wait('w', 'P2D'), anEmail('m'), split])).toBe(false)
  expect(sameLayout(base, [wait('w', 'P1D'), anEmail('m'), renamed])).toBe(false)
  expect(sameLayout(base, [anEmail('m'), wait('w', 'P1D'), split])).toBe(false)
  expect(sameLayout(base, [wait('w', 'P1D'), anEmail('m')])).toBe(false)
})
