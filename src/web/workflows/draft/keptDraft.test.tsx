import { beforeEach, expect, test } from 'vitest'
import type { WorkflowResponse } from '../../../contract/workflows.ts'
import { aDefinition } from '../../../testing/builders.ts'
import { keep, keptDraft } from './keptDraft.ts'

const named = (name: string) => aDefinition({ name })
const server = (draftRevision: number, name: string) =>
  ({ id: 'w', draft: named(name), draftRevision }) as WorkflowResponse

beforeEach(() => localStorage.clear())

test('what could not be saved is there again', () => {
  keep('w', { revision: 3, definition: named('mine'), sending: null })
  expect(keptDraft(server(3, 'theirs'))).toEqual(named('mine'))
  keep('w', null)
  expect(keptDraft(server(3, 'theirs'))).toBeNull()
})

test('not where somebody else has saved since', () => {
  keep('w', { revision: 3, definition: named('mine'), sending: named('half of mine') })
  expect(keptDraft(server(4, 'theirs'))).toBeNull()
  expect(keptDraft(server(5, 'half of mine'))).toBeNull()
})

test('but where the save that was on its way has arrived', () => {
  keep('w', { revision: 3, definition: named('mine'), sending: named('half of mine') })
  expect(keptDraft(server(4, 'half of mine'))).toEqual(named('mine'))
})

test('what the server has refused is there again, to be mended', () => {
  const tooLong = named('x'.repeat(121))
  keep('w', { revision: 3, definition: tooLong, sending: null })
  expect(keptDraft(server(3, 'theirs'))).toEqual(tooLong)
})

test('a document that is none is not taken', () => {
  localStorage.setItem('yomble.draft.w', JSON.stringify({ revision: 3, definition: { steps: 1 } }))
  expect(keptDraft(server(3, 'theirs'))).toBeNull()
})
