import { once } from 'node:events'
import { Worker } from 'node:worker_threads'
import type { LivePart, Part, PartOrder } from './load.ts'
import type { PlacedLife } from './part.ts'

/** What a thread is given to begin with. */
export interface ThreadGiven {
  databaseUrl: string
  order: PartOrder
  lives: readonly PlacedLife[]
}

/**
 * Lives through each part in a thread of its own: people's lives take one processor most of their time, and the
 * main thread stays free for whoever wants to stop it all. A mistake in a thread is thrown here.
 */
export const liveInThread =
  (databaseUrl: string, startThread = startBuilt): LivePart =>
  async (order, lives) => {
    const thread = startThread({ databaseUrl, order, lives })
    const [times] = (await once(thread, 'message')) as [Part['times']]
    return {
      times,
      write: async (numbers) => {
        const written = once(thread, 'message')
        // oxlint-disable-next-line unicorn/require-post-message-target-origin -- a thread, no window
        thread.postMessage(numbers)
        await written
      },
    }
  }

/** What the build makes of `thread.ts`. */
const startBuilt = (given: ThreadGiven): Worker =>
  new Worker(new URL('lives.js', import.meta.url), { workerData: given })
