import { expect, test } from 'vitest'
import { layoutTimetable } from '../core/timetable/layout.ts'
import { aDefinition, anEmail, ordersEver, wait } from '../testing/builders.ts'
import { layoutFaults } from '../testing/layoutFaults.ts'
import type { Step } from '../core/workflow/steps.ts'
import { DRAFT_WORKFLOW, LIVE_WORKFLOWS } from './workflows/index.ts'

test.each([...LIVE_WORKFLOWS, DRAFT_WORKFLOW].map((one) => [one.name, one] as const))(
  '%s can be read',
  (_name, definition) => {
    expect(layoutFaults(definition)).toEqual([])
  },
)

test('a path that ends has its row to itself; what comes after stands on the rows of the others', () => {
  const steps: Step[] = [
    {
      key: 's',
      kind: 'split',
      branches: [
        { key: 'first', name: 'First', when: ordersEver(1), steps: [anEmail('welcome')] },
        {
          key: 'second',
          name: 'Second',
          when: ordersEver(2),
          steps: [wait('w', 'P14D'), anEmail('late'), { key: 'e', kind: 'end' }],
        },
      ],
      otherwise: [],
    },
    wait('w2', 'P7D'),
    anEmail('shared'),
  ]
  const { items, rows } = layoutTimetable(aDefinition({ steps }))
  const find = (key: string) => items.find((one) => one.key === key)
  expect(rows.map(({ names }) => names.at(-1))).toEqual(['First', 'Second', 'Everyone else'])
  expect(find('late')).toMatchObject({ rowFrom: 1, rowTo: 2, shared: false })
  // The first and the last row are not side by side: it stands on one, and is marked as shared.
  expect(find('shared')).toMatchObject({ rowFrom: 0, rowTo: 1, shared: true })
})

test('twelve nested splits with sixty messages can be read', () => {
  const nest = (depth: number): Step[] =>
    depth === 0
      ? []
      : [
          wait(`w${depth}`, 'P1D'),
          ...[1, 2, 3, 4].map((one) => anEmail(`m${depth}-${one}`)),
          {
            key: `s${depth}`,
            kind: 'split',
            branches: [
              { key: `b${depth}`, name: 'A', when: ordersEver(depth), steps: nest(depth - 1) },
            ],
            otherwise: [anEmail(`o${depth}`)],
          },
        ]
  expect(layoutFaults(aDefinition({ steps: nest(12) }))).toEqual([])
})
