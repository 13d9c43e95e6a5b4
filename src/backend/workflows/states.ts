import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import { HOUR_MS } from '../../core/shared/duration.ts'
import { skipAllOf } from '../messages/queue.ts'
import type { Database, Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { appendLedger } from '../runs/ledger.ts'
import { endRunsOf, holdRuns, releaseRuns } from '../runs/store.ts'
import { stopIntakes } from '../intakes/index.ts'
import { readClock } from '../shop/index.ts'
import { noteState } from './stateLog.ts'
import { byId, findWorkflow, lockWorkflow } from './store.ts'
import { workflows } from './tables.ts'
import { watchDates } from './watchDates.ts'

/** Stops entries and holds what is due. Throws AppError `conflict` unless it is live. */
export async function pauseWorkflow(db: Database, shopId: string, id: string): Promise<void> {
  await db.transaction(async (tx) => {
    const workflow = await lockWorkflow(tx, shopId, id)
    if (workflow.state !== 'live')
      throw new AppError('conflict', 'Only a live workflow can be paused.')
    await tx.update(workflows).set({ state: 'paused' }).where(byId(shopId, id))
    const { now } = await readClock(tx, shopId)
    await noteState(tx, shopId, id, { at: now, state: 'paused' })
    await holdRuns(tx, shopId, id)
  })
}

/**
 * Lets entries in again. What is overdue is sent, or, with `skipLaterThanHours`, messages that are
 * more than so many hours late are passed over. Throws AppError `conflict` unless it is paused.
 */
export async function resumeWorkflow(
  db: Database,
  shopId: string,
  id: string,
  { skipLaterThanHours = null }: { skipLaterThanHours?: number | null } = {},
): Promise<void> {
  await db.transaction(async (tx) => {
    const workflow = await lockWorkflow(tx, shopId, id)
    if (workflow.state !== 'paused') throw new AppError('conflict', 'This workflow is not paused.')
    const { now } = await readClock(tx, shopId)
    await tx.update(workflows).set({ state: 'live' }).where(byId(shopId, id))
    await noteState(tx, shopId, id, { at: now, state: 'live' })
    const skipBefore = skipLaterThanHours === null ? null : now - skipLaterThanHours * HOUR_MS
    await releaseRuns(tx, shopId, id, skipBefore)
    const { live } = await findWorkflow(tx, shopId, id)
    if (live) await watchDates(tx, shopId, id, { now, definition: live })
  })
}

/**
 * Takes a workflow out of use for good: nobody enters any more. Runs in progress finish, or end now.
 * Returns how many were ended. Throws AppError `conflict` unless it is live or paused.
 */
export async function retireWorkflow(
  db: Database,
  shopId: string,
  id: string,
  { endRuns, person }: { endRuns: boolean; person: string },
): Promise<number> {
  return db.transaction(async (tx) => {
    const workflow = await lockWorkflow(tx, shopId, id)
    if (workflow.state !== 'live' && workflow.state !== 'paused') {
      throw new AppError('conflict', 'Only a workflow that has been switched on can be retired.')
    }
    const { now } = await readClock(tx, shopId)
    await tx.update(workflows).set({ state: 'retired', changedAt: now }).where(byId(shopId, id))
    await noteState(tx, shopId, id, { at: now, state: 'retired' })
    await stopIntakes(tx, shopId, id, now)
    if (!endRuns) {
      if (workflow.state === 'paused') await releaseRuns(tx, shopId, id, null)
      return 0
    }
    return endAllRuns(tx, shopId, id, { now, person })
  })
}

/** Ends every run in progress with what it has queued, and says so in the ledger. */
async function endAllRuns(
  db: Db,
  shopId: string,
  workflowId: string,
  { now, person }: { now: number; person: string },
): Promise<number> {
  const ended = await endRunsOf(db, shopId, workflowId)
  const entry: LedgerEntry = { kind: 'retired', step: null, person }
  await appendLedger(
    db,
    shopId,
    now,
    ended.map(({ id, ...run }) => ({ ...run, runId: id, entry })),
  )
  await skipAllOf(db, shopId, workflowId)
  return ended.length
}
