import fc from 'fast-check'
import { expect, test } from 'vitest'
import { definitions } from '../../testing/model/arbitraries.ts'
import { referencesIn, withReplaced } from './references.ts'

test('every generated workflow is itself with nothing replaced, and back again with all replaced and replaced back', () => {
  fc.assert(
    fc.property(definitions, (definition) => {
      expect(withReplaced(definition, {})).toEqual(definition)
      const found = referencesIn(definition)
      const there = new Map([...found.products].map((id) => [id, `other-${id}`]))
      const back = new Map([...there].map(([from, to]) => [to, from]))
      const moved = withReplaced(definition, { products: there })
      expect([...referencesIn(moved).products].toSorted()).toEqual([...there.values()].toSorted())
      expect(withReplaced(moved, { products: back })).toEqual(definition)
    }),
    { numRuns: 200 },
  )
})

test('what a document says of itself is no reference', () => {
  const condition = { kind: 'workflows', workflow: 'this', state: 'isIn', window: { kind: 'ever' } }
  expect(referencesIn([condition, { ...condition, workflow: 'any' }]).workflows.size).toBe(0)
  expect([...referencesIn({ ...condition, workflow: 'w-9' }).workflows]).toEqual(['w-9'])
  // A text that happens to be called so is left alone.
  expect(withReplaced({ kind: 'note', workflow: 'w-9' }, { workflows: new Map([['w-9', 'x']]) })).toEqual({ kind: 'note', workflow: 'w-9' }) // prettier-ignore
})

test('pictures are found in paths wherever they stand, several in one text', () => {
  const html = '<img src="/files/aa"> <img src="/files/bb">'
  expect([...referencesIn({ html }).pictures]).toEqual(['aa', 'bb'])
  expect(withReplaced({ html }, { pictures: new Map([['bb', 'cc']]) }).html).toContain('/files/aa"> <img src="/files/cc"') // prettier-ignore
})
