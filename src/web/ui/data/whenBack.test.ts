import { aProblem } from '../../testing/screen.tsx'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { ApiError, ServerAwayError } from './api.ts'
import { whenBack } from './whenBack.ts'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

/** Something that answers with each of these in turn; errors are thrown. */
function answering(...answers: (string | Error)[]) {
  const act = vi.fn<() => Promise<string>>(async () => {
    const answer = answers.shift() ?? 'nothing more was expected'
    if (answer instanceof Error) throw answer
    return answer
  })
  return act
}

test('what is answered at once is taken at once', async () => {
  const onAway = vi.fn<() => void>()
  const act = answering('stored')
  expect(await whenBack(act, { isWanted: () => true, onAway })).toBe('stored')
  expect(onAway).not.toHaveBeenCalled()
})

test('while the server is away it is tried again, until it answers', async () => {
  const onAway = vi.fn<() => void>()
  const act = answering(new ServerAwayError(), new ServerAwayError(), 'stored')
  const result = whenBack(act, { isWanted: () => true, onAway, retryAfterMs: 1000 })
  await vi.advanceTimersByTimeAsync(999)
  expect(act).toHaveBeenCalledTimes(1)
  expect(onAway).toHaveBeenCalledTimes(1)
  await vi.advanceTimersByTimeAsync(1001)
  expect(await result).toBe('stored')
  expect(act).toHaveBeenCalledTimes(3)
})

test('what the server refuses is not tried again', async () => {
  const refused = new ApiError(400, aProblem(400, 'Too large'))
  const act = answering(refused, 'stored')
  await expect(whenBack(act, { isWanted: () => true, onAway: vi.fn<() => void>() })).rejects.toBe(
    refused,
  )
  expect(act).toHaveBeenCalledTimes(1)
})

test('nobody waits for it any more: it is not tried again', async () => {
  let isWanted = true
  const act = answering(new ServerAwayError(), 'stored')
  const failure = whenBack(act, {
    isWanted: () => isWanted,
    onAway: vi.fn<() => void>(),
  }).catch((error: unknown) => error)
  isWanted = false
  await vi.runAllTimersAsync()
  expect(await failure).toBeInstanceOf(ServerAwayError)
  expect(act).toHaveBeenCalledTimes(1)
})
