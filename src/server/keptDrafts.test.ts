import { expect, test } from 'vitest'
import { aDefinition } from '../testing/builders.ts'
import { KeptDrafts } from './keptDrafts.ts'

const read = (id: string, draftRevision: number, name = id) => ({
  id,
  draftRevision,
  draft: aDefinition({ name }),
})

test('a draft is the same object until it is saved, in its shop, and for as long as it is listed', () => {
  const kept = new KeptDrafts()
  const [first, second] = kept.of('s', [read('a', 1), read('b', 1)])
  const [again, saved] = kept.of('s', [read('a', 1), read('b', 2, 'newer')])
  expect(again).toBe(first)
  expect(saved).not.toBe(second)
  expect(saved?.name).toBe('newer')
  expect(kept.of('other', [read('a', 1)])[0]).not.toBe(first)
  kept.of('s', [])
  expect(kept.of('s', [read('a', 1)])[0]).not.toBe(first)
})
