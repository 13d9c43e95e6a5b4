import { ServerAwayError } from './api.ts'

interface Options {
  /** Asked before each further try: false once nobody waits for it any more. */
  isWanted: () => boolean
  /** Told when the server was away, before it is waited for. */
  onAway: () => void
  retryAfterMs?: number
}

/**
 * Does something, and again for as long as the server does not answer and it is still wanted. Resolves
 * to its result. Throws what the server answers, and ServerAwayError once it is not wanted any more.
 */
export async function whenBack<Result>(
  act: () => Promise<Result>,
  { isWanted, onAway, retryAfterMs = 3000 }: Options,
): Promise<Result> {
  for (;;) {
    try {
      return await act()
    } catch (error) {
      if (!(error instanceof ServerAwayError) || !isWanted()) throw error
    }
    onAway()
    await new Promise((done) => setTimeout(done, retryAfterMs))
    if (!isWanted()) throw new ServerAwayError()
  }
}
