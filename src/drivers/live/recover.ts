import { and, eq, inArray } from 'drizzle-orm'
import { messages } from '../../backend/messages/tables.ts'
import type { Database, Transaction } from '../../backend/platform/db.ts'
import { addJobs } from '../../backend/platform/jobs.ts'
import { buryDeadWorkers } from '../../backend/platform/workers.ts'
import { runs } from '../../backend/runs/tables.ts'
import { readClock } from '../../backend/shop/index.ts'
import type { Programs } from './programs.ts'
import { sendJob } from './record.ts'
import { settleUnsure } from './sendMessages.ts'

/**
 * Finds workers that died and settles what they left half done: their jobs are freed, and messages
 * they were handing over become unsure. Returns how many workers had died.
 */
export async function recoverFromCrashes(db: Database, programs: Programs): Promise<number> {
  return buryDeadWorkers(db, (tx, workerIds) => settleAbandoned(tx, programs, workerIds))
}

async function settleAbandoned(
  tx: Transaction,
  programs: Programs,
  workerIds: string[],
): Promise<void> {
  const abandoned = await tx
    .select({ message: messages, run: runs })
    .from(messages)
    .innerJoin(runs, and(eq(runs.shopId, messages.shopId), eq(runs.id, messages.runId)))
    .where(and(eq(messages.status, 'handingOver'), inArray(messages.worker, workerIds)))
    .for('update', { of: messages })
  for (const { message, run } of abandoned) {
    const { now } = await readClock(tx, message.shopId)
    const program = await programs.get(tx, message.shopId, message.workflowId, message.version)
    const instruction = program.instructions.get(message.step)
    const marketing = instruction?.kind === 'email' && instruction.step.purpose === 'marketing'
    const error = 'the process stopped while sending'
    await settleUnsure(tx, message.shopId, now, { message, run, marketing, error })
  }
  await addJobs(
    tx,
    abandoned.map(({ message }) => sendJob(message.shopId, message.runId)),
  )
}
