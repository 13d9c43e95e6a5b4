import { expect, test } from 'vitest'
import { facts } from '../../testing/coreFacts.ts'
import { compileCondition } from './compile.ts'

const tagged = (op: string, value: string[], tags: string[]): boolean =>
  compileCondition({ kind: 'field', field: 'customer.tags', op, value }).holds({
    facts: facts({ customer: { tags } }),
    enteredAt: 0,
  })

test.each([
  ['hasAny', ['club'], ['new', 'Club'], true],
  ['hasAny', ['club', 'new'], ['old', 'older'], false],
  ['hasAny', ['club'], [], false],
  ['hasNone', ['club'], ['new', 'Club'], false],
  ['hasNone', ['club'], [], true],
  ['hasAll', ['club', 'NEW'], ['new', 'old', 'club'], true],
  ['hasAll', ['club', 'new'], ['club'], false],
] as const)('%s %j of %j: wherever in the list it stands, in capitals or not', (op, value, tags, holds) => {
  expect(tagged(op, [...value], [...tags])).toBe(holds)
}) // prettier-ignore
