import { describe, expect, test } from 'vitest'
import { checkExamples, coverage } from '../core/rehearsal/examples.ts'
import { rehearse } from '../core/rehearsal/rehearse.ts'
import { messagesOf } from '../core/rehearsal/story.ts'
import { parseInstant } from '../core/shared/time.ts'
import type { Definition } from '../core/workflow/definition.ts'
import { allSteps } from '../core/workflow/lists.ts'
import { updateStep } from '../core/workflow/edit.ts'
import { DEMO_FACTS } from './shopFacts.ts'
import { LIVE_WORKFLOWS } from './workflows/index.ts'
import { makeExamples } from './workflows/makeExamples.ts'

/** An order that is undone between its booking and its class, a trial that is over before it ends, an old order that is undone within days. */
const TOO_RARE = new Set([
  'Before a class undone',
  'After the trial not-active',
  'Time for more: Smoker pellets, 2 kg cancelled',
  'Time for more: Smoker pellets, 2 kg refunded',
])

describe('each workflow of the demo comes with examples for its paths and exclusions', () => {
  test.each(LIVE_WORKFLOWS.map((definition) => [definition.name, definition] as const))(
    '%s',
    (name, definition) => {
      const checked = checkExamples(definition, DEMO_FACTS)
      expect(checked.flatMap(({ differences }) => differences)).toEqual([])
      for (const one of coverage(definition, checked).missing) {
        expect(TOO_RARE, JSON.stringify(one)).toContain(
          `${name} ${one.kind === 'exclusion' ? one.key : ''}`,
        )
      }
      // As `npm run schema` finds them.
      expect(definition.examples).toEqual(makeExamples(definition))
    },
  )
})

describe('a mistake in a workflow is caught by its examples', () => {
  const named = (name: string): Definition => {
    const found = LIVE_WORKFLOWS.find((one) => one.name === name)
    if (!found) throw new Error(`There is no ${name}`)
    return found
  }
  const caught = (definition: Definition) =>
    checkExamples(definition, DEMO_FACTS).flatMap(({ example, differences }) => differences.length > 0 ? [example.name] : [])
  const dispatch = named('After dispatch')

  test('a wait that is longer', () => {
    const wait = allSteps(dispatch.steps).find(({ kind }) => kind === 'wait')
    expect(caught(updateStep(dispatch, wait?.key ?? '', (step) => (step.kind === 'wait' ? { ...step, for: 'P9D' } : step)))).not.toEqual([])
  })
  test('an exclusion that is forgotten', () => {
    const checkout = named('Open checkout')
    expect(caught({ ...checkout, exclusions: [] })).not.toEqual([])
  })
  test('paths that are asked in another order', () => {
    const split = allSteps(dispatch.steps).find(({ kind }) => kind === 'split')
    const turned = updateStep(dispatch, split?.key ?? '', (step) => (step.kind === 'split' ? { ...step, branches: step.branches.toReversed() } : step))
    expect(caught(turned)).not.toEqual([])
  })
}) // prettier-ignore

test('an order one second before the send of “Open checkout” stops it; one second after it does not', () => {
  const definition = LIVE_WORKFLOWS.find(({ name }) => name === 'Open checkout')
  const example = definition?.examples?.find(({ outcome }) => outcome.messages.length > 0)
  const [first] = example?.outcome.messages ?? []
  if (!definition || !example || !first) throw new Error('Open checkout has no example that gets a message')
  const { subject } = example
  const minutes = ((parseInstant(first.at) ?? 0) - (parseInstant(subject.at) ?? 0)) / 60_000
  const gets = (afterMinutes: number) => {
    const between = [{ key: 'o', what: 'ordered', afterMinutes }] as const
    return messagesOf(rehearse(definition, { ...subject, between: [...between] }, DEMO_FACTS)).length
  }
  expect(gets(minutes - 1 / 60)).toBe(0)
  expect(gets(minutes + 1 / 60)).toBe(1)
}) // prettier-ignore
