import type { Database } from '../../../backend/platform/db.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { beginBulk } from '../../../backend/runs/index.ts'
import { findShop, readClock } from '../../../backend/shop/index.ts'
import { lockWorkflow } from '../../../backend/workflows/index.ts'
import type { Programs } from '../programs.ts'
import { workOffMove } from './workOnBulk.ts'

/** How many people were moved, how many stay since the new version has no such step, and how many are still to have their turn. */
export interface MoveCount {
  moved: number
  stay: number
  left: number
}

/**
 * Moves the people in progress on older versions to the live one: to the step with the same key, with
 * their wait reckoned anew; those whose step it does not have stay. A message that a run has been
 * through is not sent a second time. While the workflow is paused nobody goes on from there. The first are moved at once, many by
 * and by. Throws AppError `conflict` unless the workflow is live or paused.
 */
export async function moveToLiveVersion(
  db: Database,
  programs: Programs,
  shopId: string,
  workflowId: string,
  person: string,
  most?: number,
): Promise<MoveCount> {
  const shop = await findShop(db, shopId)
  return db.transaction(async (tx) => {
    const { state, liveVersion: toVersion } = await lockWorkflow(tx, shopId, workflowId)
    if ((state !== 'live' && state !== 'paused') || toVersion === null) {
      throw new AppError('conflict', 'People can be moved while the workflow is live or paused.')
    }
    const { now } = await readClock(tx, shopId)
    const begun = await beginBulk(tx, shopId, { workflowId, kind: 'move', person, now, toVersion })
    const isPaused = state === 'paused'
    const { done: moved, stay } = await workOffMove(tx, programs, shop, now, { change: begun, isPaused, most }) // prettier-ignore
    return { moved, stay, left: begun.people - moved - stay }
  })
}
