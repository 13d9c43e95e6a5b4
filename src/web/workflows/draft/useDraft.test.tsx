import { act, cleanup } from '@testing-library/react'
import { beforeEach, expect, test } from 'vitest'
import { flushSync } from 'react-dom'
import type { WorkflowResponse } from '../../../contract/workflows.ts'
import { aDefinition } from '../../../testing/builders.ts'
import { show } from '../../testing/screen.tsx'
import { useDraft, type Draft } from './useDraft.ts'

const named = (name: string) => aDefinition({ name })

beforeEach(() => localStorage.clear())

const OURS: WorkflowResponse = {
  id: 'w',
  state: 'draft',
  draft: named('a'),
  draftRevision: 1,
  liveVersion: null,
  live: null,
  changedAt: 0,
  secondPerson: null,
}

/** A draft, with what the plan and the form showed of it one after the other. */
function edit(theirs?: () => WorkflowResponse, ours = OURS) {
  const shown: string[] = []
  const now = { shown, draft: undefined as unknown as Draft }
  function Page() {
    const draft = useDraft(ours)
    const { definition, later, first } = draft
    now.draft = draft
    const plan = first === 'form' ? later : definition
    const form = first === 'plan' ? later : definition
    const both = `${plan.name}${form.name}`
    if (shown.at(-1) !== both) shown.push(both)
    return null
  }
  show(<Page />, {
    'PUT /api/workflows/w/draft': { draftRevision: 2 },
    'GET /api/workflows/w': theirs,
  })
  return now
}

test('the side that is edited answers first, the other follows', () => {
  const { shown, draft } = edit()
  act(() => draft.change(named('b'), undefined, 'form'))
  act(() => draft.change(named('c'), undefined, 'plan'))
  act(() => draft.undo())
  // The plan, then the form.
  expect(shown).toEqual(['aa', 'ab', 'bb', 'cb', 'cc', 'bc', 'bb'])
})

test('typing on leaves the other side where it is until there is time', () => {
  const { shown, draft } = edit()
  act(() => {
    for (const name of ['b', 'c']) flushSync(() => draft.change(named(name), undefined, 'form'))
  })
  expect(shown).toEqual(['aa', 'ab', 'ac', 'cc'])
})

test('what one side has shown does not go from it when the other is edited at once', () => {
  const { shown, draft } = edit()
  act(() => {
    flushSync(() => draft.change(named('b'), undefined, 'form'))
    flushSync(() => draft.change(named('c'), undefined, 'plan'))
    flushSync(() => draft.change(named('d'), undefined, 'form'))
  })
  expect(shown).toEqual(['aa', 'ab', 'cc', 'dd'])
})

test('a repair is made of the draft as it is by then', () => {
  const now = edit()
  const { draft } = now
  act(() => draft.change(named('b')))
  act(() => draft.edit((before) => named(`${before.name} mended`)))
  expect(now.draft.definition.name).toBe('b mended')
})

test('what somebody else has saved is shown', async () => {
  const now = edit(() => ({ ...OURS, draft: named('theirs'), draftRevision: 2 }))
  const { draft } = now
  expect(await act(() => draft.follow(1))).toBe(false)
  expect(await act(() => draft.follow(2))).toBe(true)
  expect(now.draft.definition.name).toBe('theirs')
})

test('nothing that was typed just now goes for what somebody else has saved', async () => {
  const now = edit(() => {
    flushSync(() => now.draft.change(named('typed'), undefined, 'form'))
    return { ...OURS, draft: named('theirs'), draftRevision: 2 }
  })
  const { draft } = now
  expect(await act(() => draft.follow(2))).toBe(false)
  expect(now.draft.definition.name).toBe('typed')
})

test('who comes back to what they left can still undo; not over what somebody else saved since', () => {
  const first = edit()
  act(() => first.draft.change(named('b')))
  cleanup()
  const back = edit(undefined, { ...OURS, draft: named('b'), draftRevision: 2 })
  expect(back.draft.canUndo).toBe(true)
  act(() => back.draft.undo())
  expect(back.draft.definition.name).toBe('a')
  act(() => back.draft.redo())
  cleanup()
  localStorage.clear()
  const later = edit(undefined, { ...OURS, draft: named('theirs'), draftRevision: 3 })
  expect(later.draft.canUndo).toBe(false)
})
