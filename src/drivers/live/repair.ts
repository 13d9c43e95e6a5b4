import { changeMessage, lockMessage, type MessageRow } from '../../backend/messages/index.ts'
import type { Database, Transaction } from '../../backend/platform/db.ts'
import { AppError } from '../../backend/platform/errors.ts'
import { addJobs } from '../../backend/platform/jobs.ts'
import { lockRun, unstick } from '../../backend/runs/index.ts'
import { readClock } from '../../backend/shop/index.ts'
import { findWorkflow } from '../../backend/workflows/index.ts'
import type { Programs } from './programs.ts'
import { sendJobs } from './record.ts'
import { note } from './send/settle.ts'

/** What a person decides about something that needs attention. */
export interface Repair {
  did: 'tryAgain' | 'giveUp'
  person: string
}

/**
 * Has a message that failed or is unsure tried again, in the words of the live version where that has
 * the step, so that a mended text is what goes out; or gives it up. Throws AppError `not_found`, or
 * `conflict` when it no longer needs attention.
 */
export async function repairMessage(
  db: Database,
  programs: Programs,
  shopId: string,
  messageId: number,
  { did, person }: Repair,
): Promise<void> {
  await db.transaction(async (tx) => {
    const message = await lockMessage(tx, shopId, messageId)
    if (!message) throw new AppError('not_found', 'There is no such message.')
    if (message.status !== 'failed' && message.status !== 'unsure') {
      throw new AppError('conflict', 'This message no longer needs attention.')
    }
    const { now } = await readClock(tx, shopId)
    const run = await lockRun(tx, shopId, message.runId)
    if (run) await note(tx, shopId, now, run, { kind: 'repaired', step: message.step, person, did })
    if (did === 'giveUp') {
      return changeMessage(tx, message, { status: 'skipped' })
    }
    const version = await mendedVersion(tx, programs, message)
    await changeMessage(tx, message, { status: 'queued', version })
    await addJobs(tx, sendJobs(shopId, [message.runId]))
  })
}

async function mendedVersion(
  tx: Transaction,
  programs: Programs,
  { shopId, workflowId, version, step, channel }: MessageRow,
): Promise<number> {
  const { liveVersion } = (await findWorkflow(tx, shopId, workflowId)).workflow
  if (liveVersion === null) return version
  const program = await programs.get(tx, shopId, workflowId, liveVersion)
  const instruction = program.instructions.get(step)
  const kind = instruction && 'step' in instruction ? instruction.step.kind : null
  return kind === channel ? liveVersion : version
}

/**
 * Has runs that could not go on looked at again. Throws AppError `conflict` for one that is not stuck.
 */
export async function repairRun(db: Database, shopId: string, runId: number): Promise<void> {
  const { now } = await readClock(db, shopId)
  if (!(await unstick(db, shopId, runId, now)))
    throw new AppError('conflict', 'This run is not stuck.')
}
