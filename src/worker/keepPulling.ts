import { setTimeout as pause } from 'node:timers/promises'
import { Evaluator, pullDue } from '../backend/connections/index.ts'
import type { Database } from '../backend/platform/db.ts'
import { toError } from '../backend/platform/errors.ts'
import type { Log } from '../backend/platform/log.ts'

const EVERY_MS = 2_000

/** Fetches what connections fetch, beside everything else, until the function it returns is called. */
export function startPulling(db: Database, log: Log, allowPrivate: boolean): () => Promise<void> {
  const stopping = new AbortController()
  const { signal } = stopping
  const evaluator = new Evaluator()
  const run = async (): Promise<void> => {
    while (!signal.aborted) {
      try {
        await pullDue({ db, evaluator, allowPrivate })
      } catch (error) {
        if (!signal.aborted) log.error({ err: toError(error) }, 'fetching failed; it goes on')
      }
      await pause(EVERY_MS, undefined, { signal })
    }
  }
  const running = run().catch(() => undefined)
  return async () => {
    stopping.abort()
    await running
    await evaluator.close()
  }
}
