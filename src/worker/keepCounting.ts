import { setTimeout as pause } from 'node:timers/promises'
import { forgetChanged } from '../backend/changes/index.ts'
import { sending } from '../backend/overview/index.ts'
import { forgetDaily } from '../backend/people/index.ts'
import { sql } from 'drizzle-orm'
import type { Database, Transaction } from '../backend/platform/db.ts'
import { toError } from '../backend/platform/errors.ts'
import type { Log } from '../backend/platform/log.ts'
import { findShop, readClock } from '../backend/shop/index.ts'
import { claimRound } from '../backend/watch/index.ts'
import { countRolledUp, listWorkflows } from '../backend/workflows/index.ts'
import { DAY_MS } from '../core/shared/duration.ts'

const FIRST_AFTER_MS = 3_000
/** How often it is asked whose turn it is; each shop's comes once a minute at most. */
const EVERY_MS = 20_000
/** What the results ask for first, and the time before it. */
const COUNTED_DAYS = 180
const WINDOW_DAYS = 30
const LONGEST_MS = 60_000

/**
 * Counts what has changed before anybody asks, so that nobody waits for it, and what is noted of changes does not pile up.
 * Goes on beside everything else until the function it returns is called.
 */
export function startCounting(db: Database, log: Log): () => Promise<void> {
  const stopping = new AbortController()
  const { signal } = stopping
  const run = async (): Promise<void> => {
    await pause(FIRST_AFTER_MS, undefined, { signal })
    for (;;) {
      try {
        for (
          let shops = await claimRound(db, 'count');
          shops.length > 0;
          shops = await claimRound(db, 'count')
        ) {
          // prettier-ignore
          for (const shopId of shops) await countShop(db, shopId, signal)
        }
      } catch (error) {
        // Whoever asks will count it themselves.
        if (!signal.aborted) log.error({ err: toError(error) }, 'counting ahead failed; it goes on')
      }
      await pause(EVERY_MS, undefined, { signal })
    }
  }
  const running = run().catch(() => undefined)
  return async () => {
    stopping.abort()
    await running
  }
}

/** Counts all that screens ask for first of one shop, and throws away what it keeps no longer. */
export async function countShop(db: Database, shopId: string, signal?: AbortSignal): Promise<void> {
  const shop = await findShop(db, shopId)
  await forgetChanged(db, shopId)
  const { now } = await readClock(db, shopId)
  await forgetDaily(db, shopId, now)
  await withinTime(db, (tx) => sending(tx, shop, now))
  for (const { workflow } of await listWorkflows(db, shopId)) {
    if (signal?.aborted) return
    if (workflow.state === 'draft') continue
    const asked = { shopId, workflowId: workflow.id, from: now - COUNTED_DAYS * DAY_MS, to: now + 1, windowDays: WINDOW_DAYS, now } // prettier-ignore
    await withinTime(db, (tx) => countRolledUp(tx, shop.zone, asked))
  }
}

/** What takes too long is given up: PostgreSQL may not know yet how much there is, and plan it badly. The next round has it. */
const withinTime = (db: Database, work: (tx: Transaction) => Promise<unknown>): Promise<void> =>
  db.transaction(async (tx) => {
    await tx.execute(sql.raw(`set local statement_timeout = ${LONGEST_MS}`))
    await work(tx)
  })
