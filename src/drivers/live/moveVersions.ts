import { sql } from 'drizzle-orm'
import { rowsOf, type Database } from '../../backend/platform/db.ts'
import { AppError } from '../../backend/platform/errors.ts'
import { findShop, readClock } from '../../backend/shop/index.ts'
import { findWorkflow } from '../../backend/workflows/index.ts'
import type { Programs } from './programs.ts'
import { appendLedger } from './record.ts'
import { moveRuns, RUN_COLUMNS, type KeptRun } from './runDue.ts'

/** How many people were moved, and how many stay since the new version has no such step. */
export interface MoveCount {
  moved: number
  stay: number
}

/**
 * Moves the people in progress on older versions to the live one: to the step with the same key, with
 * their wait reckoned anew; those whose step it does not have stay. A message that a run has been
 * through is not sent a second time. Throws AppError `conflict` unless the workflow is live.
 */
export async function moveToLiveVersion(
  db: Database,
  programs: Programs,
  shopId: string,
  workflowId: string,
  person: string,
): Promise<MoveCount> {
  const shop = await findShop(db, shopId)
  return db.transaction(async (tx) => {
    const { workflow } = await findWorkflow(tx, shopId, workflowId)
    const to = workflow.liveVersion
    if (workflow.state !== 'live' || to === null) {
      throw new AppError('conflict', 'People can be moved while the workflow is live.')
    }
    const { now } = await readClock(tx, shopId)
    const program = await programs.get(tx, shopId, workflowId, to)
    const runs = await rowsOf<KeptRun>(
      tx,
      sql`select ${RUN_COLUMNS} from runs where shop_id = ${shopId} and workflow_id = ${workflowId}
        and status = 'inProgress' and version <> ${to} order by id for update`,
    )
    const able = runs.filter(({ step }) => step !== null && program.instructions.has(step))
    const moved = able.map((run): KeptRun => ({ ...run, version: to, dueAt: null, moved: true }))
    await tx.execute(sql`
      update runs set version = ${to}, moved = true where shop_id = ${shopId}
        and id = any(${sql.param(moved.map(({ id }) => id))}::bigint[])`)
    await appendLedger(
      tx,
      shopId,
      now,
      able.map((run) => ({
        workflowId,
        version: to,
        runId: run.id,
        customerId: run.customerId,
        subjectId: run.subjectId,
        entry: { kind: 'moved', step: run.step, from: run.version, to, person },
      })),
    )
    if (moved.length > 0) await moveRuns(tx, programs, shop, now, moved)
    return { moved: moved.length, stay: runs.length - moved.length }
  })
}
