import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { definitions } from '../../testing/model/arbitraries.ts'
import {
  aDefinition,
  anEmail,
  beforePayment,
  end,
  thanksDefinition,
  wait,
} from '../../testing/builders.ts'
import { stepKeys } from '../workflow/lists.ts'
import { type Step } from '../workflow/steps.ts'
import { CAME } from '../workflow/lists.ts'
import { layoutTimetable, type Timetable } from './layout.ts'

const always = { kind: 'all' as const, of: [] }
const split = (key: string, first: Step[], otherwise: Step[]): Step => ({
  key,
  kind: 'split',
  branches: [{ key: `${key}-a`, name: 'A', when: always, steps: first }],
  otherwise,
})
const labels = (timetable: Timetable) => timetable.moments.map(({ label }) => label)

describe('moments', () => {
  test('are columns in order of time, shared by all paths', () => {
    const steps = [
      split('s', [wait('w1', 'P7D'), anEmail('a')], [wait('w2', 'PT20M'), anEmail('b')]),
    ]
    expect(labels(layoutTimetable(aDefinition({ steps })))).toEqual([
      'at once',
      '+ 20 min',
      '+ 7 d',
      '',
    ])
    // Where paths only meet there is nothing to say; what follows there has its moment.
    const goesOn = aDefinition({ steps: [...steps, anEmail('c')] })
    expect(labels(layoutTimetable(goesOn)).at(-1)).toBe('+ 20 min to 7 d')
  })
  test('begin at the date that a workflow starts by', () => {
    const steps = [anEmail('a'), wait('w', 'P8D'), anEmail('b')]
    expect(labels(layoutTimetable(aDefinition({ trigger: beforePayment(), steps })))).toEqual([
      '7 d before next payment, 09:00',
      '+ 8 d',
    ])
    const onTheDay = aDefinition({ trigger: beforePayment({ days: 0 }), steps: [anEmail('a')] })
    expect(labels(layoutTimetable(onTheDay))).toEqual(['on next payment, 09:00'])
  })
  test('add up along a path; a day and 24 hours stay apart', () => {
    const steps = [
      split(
        's',
        [wait('w1', 'P1D'), anEmail('a'), wait('w3', 'PT90M'), anEmail('c'), end('e')],
        [wait('w2', 'PT24H'), anEmail('b')],
      ),
    ]
    expect(labels(layoutTimetable(aDefinition({ steps })))).toEqual([
      'at once',
      '+ 24 h',
      '+ 1 d',
      '+ 1 d 1 h 30 min',
    ])
  })
  test('whoever waited in vain is there after those to whom the event came', () => {
    const waitFor: Step = {
      key: 'f',
      kind: 'waitFor',
      event: 'order.fulfilled',
      about: 'subject',
      limit: 'P14D',
      came: [anEmail('came')],
      otherwise: [anEmail('not')],
    }
    const steps = [wait('w', 'P9D'), waitFor, anEmail('met')]
    expect(labels(layoutTimetable(aDefinition({ steps })))).toEqual([
      'at once',
      '+ 9 d',
      '+ 9 d to 23 d',
      '+ 23 d',
      '+ 9 d to 23 d',
    ])
  })
  test('an hour stands with its weekdays, which another wait takes away', () => {
    const at = (key: string, weekdays: number[]): Step => ({ key, kind: 'wait', for: 'P7D', at: '10:00', weekdays })
    const steps = [at('v', [2, 3, 4]), anEmail('m'), wait('w', 'P1D'), anEmail('n'), at('x', [6, 7]), anEmail('o'), at('y', [1, 2, 3, 4, 5, 6, 7]), anEmail('p')]
    expect(labels(layoutTimetable(aDefinition({ steps })))).toEqual([
      'at once',
      '+ 7 d, Tue–Thu 10:00',
      '+ 8 d, 10:00',
      '+ 15 d, Sat, Sun 10:00',
      '+ 22 d, 10:00',
    ])
  }) // prettier-ignore
  test('weeks are days', () => {
    expect(
      labels(layoutTimetable(aDefinition({ steps: [wait('w', 'P2W'), anEmail('a')] }))),
    ).toEqual(['at once', '+ 14 d'])
  })
})

describe('rows', () => {
  test('are paths, named by what leads onto them', () => {
    expect(layoutTimetable(thanksDefinition()).rows).toEqual([
      { letter: 'A', names: ['First order'], way: { branching: 'split', branch: 'first' } },
      { letter: 'B', names: ['Second order'], way: { branching: 'split', branch: 'second' } },
      { letter: 'C', names: ['Everyone else'], way: { branching: 'split', branch: null } },
    ])
  })
  test('a nested split takes rows inside its branch', () => {
    const steps = [split('s', [split('t', [anEmail('a')], [anEmail('b')])], [])]
    expect(layoutTimetable(aDefinition({ steps })).rows.map(({ names }) => names)).toEqual([
      ['A', 'A'],
      ['A', 'Everyone else'],
      ['Everyone else'],
    ])
  })
  test('what all paths share spans them', () => {
    const { items } = layoutTimetable(
      aDefinition({ steps: [anEmail('before'), split('s', [], []), anEmail('after')] }),
    )
    for (const key of ['before', 'after']) {
      expect(items.find((item) => item.key === key)).toMatchObject({ rowFrom: 0, rowTo: 2 })
    }
  })
})

describe('whatever the workflow (properties)', () => {
  const overlap = (a: { rowFrom: number; rowTo: number }, b: { rowFrom: number; rowTo: number }) =>
    a.rowFrom < b.rowTo && b.rowFrom < a.rowTo

  test('every step and branch is drawn once, and nothing lies on anything else', () => {
    fc.assert(
      fc.property(definitions, (definition) => {
        const { items } = layoutTimetable(definition)
        // The two ways of a wait for an event are drawn, and have no keys of their own.
        const drawn = items
          .filter(({ kind, key }) => kind !== 'join' && key !== CAME)
          .flatMap(({ key }) => key ?? [])
        expect(drawn.toSorted()).toEqual(stepKeys(definition.steps).toSorted())
        expect(new Set(items.map(({ id }) => id)).size).toBe(items.length)
        const onTop = items.flatMap((a, index) =>
          items.slice(index + 1).filter((b) => a.slot === b.slot && overlap(a, b)),
        )
        expect(onTop).toEqual([])
      }),
      { numRuns: 300 },
    )
  })

  test('lines go from left to right, and every place to insert at is on exactly one line', () => {
    fc.assert(
      fc.property(definitions, (definition) => {
        const { items, links } = layoutTimetable(definition)
        for (const { from, to } of links) {
          expect(from.slot).toBeLessThan(to.slot)
          expect(items).toContain(from)
          expect(items).toContain(to)
        }
        const places = links.flatMap(({ place }) => (place ? JSON.stringify(place) : []))
        expect(new Set(places).size).toBe(places.length)
      }),
    )
  })

  test('the same workflow gives the same timetable', () => {
    fc.assert(
      fc.property(definitions, (definition) => {
        expect(layoutTimetable(structuredClone(definition))).toEqual(layoutTimetable(definition))
      }),
    )
  })
})

test('twelve nested splits and sixty stops keep their order', () => {
  const nest = (depth: number): Step[] =>
    depth === 0
      ? []
      : [
          wait(`w${depth}`, 'P1D'),
          ...[1, 2, 3, 4].map((one) => anEmail(`m${depth}-${one}`)),
          split(`s${depth}`, nest(depth - 1), [anEmail(`o${depth}`)]),
        ]
  const { rows, moments, items } = layoutTimetable(aDefinition({ steps: nest(12) }))
  expect(rows).toHaveLength(13)
  expect(items.filter(({ kind }) => kind === 'email')).toHaveLength(60)
  expect(moments[0]?.label).toBe('at once')
  expect(moments.find(({ label }) => label === '+ 12 d')).toBeDefined()
})
