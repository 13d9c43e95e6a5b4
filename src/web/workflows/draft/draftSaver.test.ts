import { aProblem } from '../../testing/screen.tsx'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { aDefinition } from '../../../testing/builders.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { ApiError, ServerAwayError } from '../../ui/data/api.ts'
import { DraftSaver } from './draftSaver.ts'

const named = (name: string): Definition => aDefinition({ name })

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

/** A server that counts revisions, and answers as a test wants. */
function makeSaver(answer: (put: number) => Error | null = () => null) {
  const saved: string[] = []
  let kept: string | null = null
  let puts = 0
  let revision = 0
  const saver = new DraftSaver({
    draft: named('start'),
    revision: 0,
    put: async (base, definition) => {
      const error = answer(puts)
      puts += 1
      if (error) throw error
      expect(base).toBe(revision)
      revision += 1
      saved.push(definition.name)
      return revision
    },
    keep: (draft) => {
      kept = draft?.definition.name ?? null
    },
  })
  return { saver, saved, kept: () => kept }
}

test('typing is saved once it pauses, and kept here until then', async () => {
  const { saver, saved, kept } = makeSaver()
  for (const name of ['T', 'Th', 'The']) saver.offer(named(name))
  expect(kept()).toBe('The')
  expect(saver.state()).toEqual({ kind: 'saving' })
  await vi.runAllTimersAsync()
  expect(saved).toEqual(['The'])
  expect(kept()).toBeNull()
  expect(saver.state()).toEqual({ kind: 'saved' })
})

test('what is typed during a save follows it, on its revision', async () => {
  const { saver, saved } = makeSaver()
  saver.offer(named('a'))
  const flushing = saver.flush()
  saver.offer(named('b'))
  expect(await flushing).toBe(2)
  expect(saved).toEqual(['a', 'b'])
})

test('what is typed during a save is kept with what is on its way, then on its revision', async () => {
  const kept: unknown[] = []
  let arrived: (revision: number) => void = () => undefined
  const saver = new DraftSaver({
    draft: named('start'),
    revision: 4,
    put: () => new Promise((resolve) => (arrived = resolve)),
    keep: (draft) =>
      kept.push(draft && [draft.revision, draft.definition.name, draft.sending?.name ?? null]),
  })
  saver.offer(named('a'))
  const flushing = saver.flush()
  saver.offer(named('b'))
  arrived(5)
  await vi.advanceTimersByTimeAsync(0)
  arrived(6)
  await flushing
  expect(kept).toEqual([[4, 'a', null], [4, 'b', 'a'], [5, 'b', null], null])
})

test('while the server is away it is tried again, and nothing is lost', async () => {
  const { saver, saved, kept } = makeSaver((put) => (put < 3 ? new ServerAwayError() : null))
  saver.offer(named('a'))
  await vi.advanceTimersByTimeAsync(600)
  expect(saver.state().kind).toBe('keptHere')
  expect(kept()).toBe('a')
  await vi.runAllTimersAsync()
  expect(saved).toEqual(['a'])
  expect(saver.state()).toEqual({ kind: 'saved' })
})

test('somebody else’s save is a conflict: nothing is sent again by itself', async () => {
  const conflict = new ApiError(409, aProblem(409, 'Changed meanwhile.'))
  const { saver, saved } = makeSaver((put) => (put === 0 ? conflict : null))
  saver.offer(named('mine'))
  await vi.runAllTimersAsync()
  expect(saver.state()).toEqual({ kind: 'conflict', message: 'Changed meanwhile.' })
  expect(saved).toEqual([])
  await saver.replace(named('theirs'), 0)
  expect(saved).toEqual(['mine'])
})

test('a save that is asked for and fails is tried again like any other', async () => {
  const { saver, saved } = makeSaver((put) => (put === 0 ? new ServerAwayError() : null))
  saver.offer(named('a'))
  await expect(saver.flush()).rejects.toBeInstanceOf(ServerAwayError)
  expect(saver.state().kind).toBe('keptHere')
  await vi.runAllTimersAsync()
  expect(saved).toEqual(['a'])
})

test('what the server cannot take is told with its place, and what comes next is tried', async () => {
  const problems = { 'definition.priority': 'must be at most 100' }
  const refused = new ApiError(400, aProblem(400, 'Not so.', problems))
  const { saver, saved, kept } = makeSaver((put) => (put === 0 ? refused : null))
  saver.offer(named('a'))
  await vi.runAllTimersAsync()
  expect(saver.state()).toEqual({
    kind: 'refused',
    message: 'Not so.',
    problems: [
      {
        place: { kind: 'workflow' },
        words: 'The priority of the workflow',
        message: 'must be at most 100',
      },
    ],
  })
  expect(kept()).toBe('a')
  saver.offer(named('b'))
  await vi.runAllTimersAsync()
  expect(saved).toEqual(['b'])
  expect(saver.state()).toEqual({ kind: 'saved' })
})

test('leaving the screen saves what is open', async () => {
  const { saver, saved } = makeSaver()
  saver.offer(named('a'))
  saver.leave()
  await vi.advanceTimersByTimeAsync(0)
  expect(saved).toEqual(['a'])
})
