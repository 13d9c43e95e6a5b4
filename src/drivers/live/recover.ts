import { and, eq, inArray } from 'drizzle-orm'
import { messages } from '../../backend/messages/tables.ts'
import type { Database, Transaction } from '../../backend/platform/db.ts'
import { addJobs } from '../../backend/platform/jobs.ts'
import { buryDeadWorkers } from '../../backend/platform/workers.ts'
import { runs } from '../../backend/runs/tables.ts'
import { readClock } from '../../backend/shop/index.ts'
import { grouped } from './facts/grouped.ts'
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
  const abandoned = await tx
    .select({ message: messages, run: runs })
    .from(messages)
    .innerJoin(runs, and(eq(runs.shopId, messages.shopId), eq(runs.id, messages.runId)))
    .where(and(eq(messages.status, 'handingOver'), inArray(messages.worker, workerIds)))
    .for('update', { of: messages })
  const error = 'the process stopped while sending'
  for (const { message, run } of abandoned) {
    const { now } = await readClock(tx, message.shopId)
    await settleUnsure(tx, message.shopId, now, { message, run, error })
  }
  const byShop = grouped(abandoned, ({ message }) => message.shopId)
  for (const [shopId, rows] of byShop) {
    await addJobs(tx, sendJobs(shopId, [...new Set(rows.map(({ message }) => message.runId))]))
  }
}
