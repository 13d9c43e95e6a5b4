import { expect, test } from 'vitest'
import { aDefinition, anEmail, end, ordersEver, wait } from '../../testing/builders.ts'
import type { Step } from '../workflow/steps.ts'
import { peopleOn } from './flow.ts'
import { layoutTimetable } from './layout.ts'

test('lines carry those who entered, less who left or wait, parted as they were', () => {
  const split: Step = {
    key: 's',
    kind: 'split',
    branches: [
      { key: 'a', name: 'A', when: ordersEver(1), steps: [anEmail('one')] },
      { key: 'b', name: 'B', when: ordersEver(2), steps: [anEmail('two'), end('e')] },
    ],
    otherwise: [],
  }
  const definition = aDefinition({ steps: [wait('w', 'P1D'), split, anEmail('last')] })
  const on = peopleOn(definition, {
    entered: 100,
    steps: [
      { step: 'w', waiting: 10, left: 0 },
      { step: 'one', waiting: 0, left: 5 },
      { step: 'two', waiting: 0, left: 1 },
      { step: 'last', waiting: 0, left: 4 },
    ],
    branches: [
      { step: 's', branch: 'a', taken: 50 },
      { step: 's', branch: 'b', taken: 25 },
      { step: 's', branch: null, taken: 15 },
    ],
  })
  const { links } = layoutTimetable(definition)
  const between = (from: string, to: string): number[] =>
    links.filter((link) => idOf(link.from) === from && idOf(link.to) === to).map(on)
  const idOf = ({ kind, key }: (typeof links)[number]['from']): string =>
    kind === 'start' || kind === 'join' ? kind : `${kind} ${key}`
  expect(between('start', 'wait w')).toEqual([100])
  expect(between('wait w', 'split s')).toEqual([90])
  expect(between('split s', 'branch a')).toEqual([50])
  expect(between('split s', 'branch null')).toEqual([15])
  expect(between('branch a', 'email one')).toEqual([50])
  expect(between('email one', 'join')).toEqual([45])
  expect(between('email two', 'end e')).toEqual([24])
  // 45 and those of the last path; whose path has ended do not come back.
  expect(between('join', 'email last')).toEqual([60])
})

test('where nobody has been, no line carries anybody', () => {
  const definition = aDefinition({ steps: [anEmail('one')] })
  const on = peopleOn(definition, { entered: 0, steps: [], branches: [] })
  expect(new Set(layoutTimetable(definition).links.map(on))).toEqual(new Set([0]))
})
