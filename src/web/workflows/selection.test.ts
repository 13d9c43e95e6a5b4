import { expect, test } from 'vitest'
import { aDefinition, anEmail, ordersEver, wait } from '../../testing/builders.ts'
import { selectedOf, type Selection } from './selection.ts'

const branches = [{ key: 'b', name: 'Second', when: ordersEver(2), steps: [anEmail('m')] }]
const DRAFT = aDefinition({
  steps: [wait('w', 'P1D'), { key: 's', kind: 'split', branches, otherwise: [] }],
})

test.each<Selection>([
  { kind: 'step', key: 'm' },
  { kind: 'branch', branching: 's', branch: 'b' },
  { kind: 'branch', branching: 's', branch: null },
  { kind: 'trigger' },
  { kind: 'versions' },
])('what is there stays selected: %j', (chosen) => {
  expect(selectedOf(chosen, DRAFT)).toBe(chosen)
})

test.each<Selection>([
  { kind: 'step', key: 'gone' },
  { kind: 'branch', branching: 'gone', branch: null },
  { kind: 'branch', branching: 's', branch: 'gone' },
  { kind: 'branch', branching: 'w', branch: null },
])('of what an undo took away the whole is left: %j', (chosen) => {
  const left = selectedOf(chosen, DRAFT)
  expect(left).toEqual({ kind: 'workflow' })
  // The same each time: the inspector keeps what it has drawn.
  expect(selectedOf(chosen, DRAFT)).toBe(left)
})
