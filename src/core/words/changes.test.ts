import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { aDefinition, anEmail, happened, thanksDefinition, wait } from '../../testing/builders.ts'
import { definitions } from '../../testing/model/arbitraries.ts'
import { insertStep, moveBranch, moveStep, removeStep, updateStep } from '../workflow/edit.ts'
import type { Definition } from '../workflow/definition.ts'
import { allSteps } from '../workflow/lists.ts'
import { changesBetween } from './changes.ts'

const context = { locale: 'en-IE', zone: 'Europe/Lisbon' }
const changes = (from: Definition, to: Definition) =>
  changesBetween(from, to, context).map(({ kind, text, was }) =>
    was === undefined ? [kind, text] : [kind, text, was],
  )

const before = aDefinition({ steps: [anEmail('a'), wait('w', 'P1D'), anEmail('b'), anEmail('c')] })

describe('differences in words', () => {
  test('none', () => {
    expect(changes(before, structuredClone(before))).toEqual([])
  })
  test('a wait, with what it said before', () => {
    const after = updateStep(before, 'w', () => wait('w', 'P3D'))
    expect(changes(before, after)).toEqual([['changed', 'Wait 3 days.', 'Wait 1 day.']])
  })
  test('a text that its sentence does not show', () => {
    const after = updateStep(before, 'a', () => anEmail('a', { body: 'Other words' }))
    expect(changes(before, after)).toEqual([
      ['changed', 'Email “a”: About [order number] — the text'],
    ])
  })
  test('something new, and something gone', () => {
    const after = removeStep(insertStep(before, { list: null, index: 0 }, anEmail('n')), 'c')
    expect(changes(before, after)).toEqual([
      ['added', 'Email “n”: About [order number]'],
      ['removed', 'Email “c”: About [order number]'],
    ])
  })
  test('one step that moves is one difference, whatever it passes', () => {
    expect(changes(before, moveStep(before, 'a', { list: null, index: 4 }))).toEqual([
      ['moved', 'Email “a”: About [order number]'],
    ])
  })
  test('the order of paths, which says who is asked first', () => {
    const after = moveBranch(thanksDefinition(), 'split', 'second', -1)
    expect(changes(thanksDefinition(), after).map(([kind]) => kind)).toEqual(['moved'])
  })
  test('name, trigger and exclusions', () => {
    const after = {
      ...before,
      name: 'Better',
      exclusions: [{ key: 'x', when: happened('order.refunded'), effect: 'leave' as const }],
      trigger: { kind: 'event' as const, event: 'order.paid' as const },
    }
    expect(changes(before, after)).toEqual([
      ['changed', 'Named “Better”', 'Test workflow'],
      ['changed', 'When an order is paid', 'When an order is placed'],
      ['added', 'Leave before any message if this order was refunded since entry.'],
    ])
  })
  test('any one step taken out is what is said to be gone, and nothing else (property)', () => {
    fc.assert(
      fc.property(definitions, fc.nat(), (one, which) => {
        const steps = allSteps(one.steps).filter((step) => !('arms' in step || 'branches' in step || 'came' in step))
        const step = steps[which % Math.max(steps.length, 1)]
        if (!step) return
        const kinds = changesBetween(one, removeStep(one, step.key), context).map(({ kind }) => kind)
        expect(kinds).toEqual(['removed'])
      }),
    ) // prettier-ignore
  })
})
