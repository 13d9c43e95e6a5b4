import { lockAbandoned } from '../../backend/messages/index.ts'
import type { Database, Transaction } from '../../backend/platform/db.ts'
import { addJobs } from '../../backend/platform/jobs.ts'
import { buryDeadWorkers } from '../../backend/platform/workers.ts'
import { lockRun } from '../../backend/runs/index.ts'
import { readClock } from '../../backend/shop/index.ts'
import { grouped } from '../../core/shared/grouped.ts'
import { sendJobs } from './record.ts'
import { settleUnsure } from './send/settle.ts'

/**
 * Finds workers that died and settles what they left half done: their jobs are freed, and messages
 * they were handing over become unsure. Returns how many workers had died.
 */
export async function recoverFromCrashes(db: Database): Promise<number> {
  return buryDeadWorkers(db, settleAbandoned)
}

async function settleAbandoned(tx: Transaction, workerIds: string[]): Promise<void> {
  const abandoned = await lockAbandoned(tx, workerIds)
  const error = 'the process stopped while sending'
  for (const message of abandoned) {
    const { now } = await readClock(tx, message.shopId)
    const run = await lockRun(tx, message.shopId, message.runId)
    if (run) await settleUnsure(tx, message.shopId, now, { message, run, error })
  }
  const byShop = grouped(abandoned, ({ shopId }) => shopId)
  for (const [shopId, rows] of byShop) {
    await addJobs(tx, sendJobs(shopId, [...new Set(rows.map(({ runId }) => runId))]))
  }
}
