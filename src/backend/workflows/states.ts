import { HOUR_MS } from '../../core/shared/duration.ts'
import { skipAllOf } from '../messages/queue.ts'
import type { Database } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { beginBulk, endBulk } from '../runs/index.ts'
import { stopIntakes } from '../intakes/index.ts'
import { readClock } from '../shop/index.ts'
import { workOff } from './bulk.ts'
import { noteState } from './stateLog.ts'
import { byId, findWorkflow, lockWorkflow } from './store.ts'
import { workflows } from './tables.ts'
import { watchDates } from './watchDates.ts'

/**
 * Stops entries, and holds what is due: from now on a worker that meets a run of it puts it aside. Throws AppError `conflict`
 * unless it is live.
 */
export async function pauseWorkflow(db: Database, shopId: string, id: string): Promise<void> {
  await db.transaction(async (tx) => {
    const workflow = await lockWorkflow(tx, shopId, id)
    if (workflow.state !== 'live')
      throw new AppError('conflict', 'Only a live workflow can be paused.')
    await tx.update(workflows).set({ state: 'paused' }).where(byId(shopId, id))
    const { now } = await readClock(tx, shopId)
    await noteState(tx, shopId, id, { at: now, state: 'paused' })
    // Whom an earlier pause still held is held on.
    await endBulk(tx, shopId, id, now, 'release')
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
  {
    skipLaterThanHours = null,
    person = '',
    most,
  }: { skipLaterThanHours?: number | null; person?: string; most?: number } = {},
): Promise<void> {
  await db.transaction(async (tx) => {
    const workflow = await lockWorkflow(tx, shopId, id)
    if (workflow.state !== 'paused') throw new AppError('conflict', 'This workflow is not paused.')
    const { now } = await readClock(tx, shopId)
    await tx.update(workflows).set({ state: 'live' }).where(byId(shopId, id))
    await noteState(tx, shopId, id, { at: now, state: 'live' })
    const skipBefore = skipLaterThanHours === null ? null : now - skipLaterThanHours * HOUR_MS
    await workOff(tx, await beginBulk(tx, shopId, { workflowId: id, kind: 'release', person, now, skipBefore }), now, most) // prettier-ignore
    const { live } = await findWorkflow(tx, shopId, id)
    if (live) await watchDates(tx, shopId, id, { now, definition: live })
  })
}

/**
 * Takes a workflow out of use for good: nobody enters any more. Runs in progress finish, or end now.
 * Returns how many end. Throws AppError `conflict` unless it is live or paused.
 */
export async function retireWorkflow(
  db: Database,
  shopId: string,
  id: string,
  { endRuns, person, most }: { endRuns: boolean; person: string; most?: number },
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
    const about = { workflowId: id, person, now }
    if (!endRuns) {
      if (workflow.state === 'paused') await workOff(tx, await beginBulk(tx, shopId, { ...about, kind: 'release' }), now, most) // prettier-ignore
      return 0
    }
    await endBulk(tx, shopId, id, now)
    const change = await beginBulk(tx, shopId, { ...about, kind: 'end' })
    await skipAllOf(tx, shopId, id)
    await workOff(tx, change, now, most)
    return change.people
  })
}
