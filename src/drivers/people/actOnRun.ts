import { skipRest } from '../../backend/messages/index.ts'
import type { Database } from '../../backend/platform/db.ts'
import { AppError } from '../../backend/platform/errors.ts'
import { appendLedger, endRun, keepStanding, lockRun } from '../../backend/runs/index.ts'
import { readClock } from '../../backend/shop/index.ts'
import { findWorkflow } from '../../backend/workflows/index.ts'
import { hurried } from '../../core/workflow/hurry.ts'
import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import type { Programs } from '../live/programs.ts'

/** What somebody does to one run: ends it, or ends the wait it is in. */
export interface RunAct {
  did: 'takeOut' | 'endWait'
  person: string
}

/**
 * Takes somebody out of a workflow, with what it still had in the queue for them; or ends the wait they are in, as though
 * its time had come. Throws AppError `not_found`; `conflict` for a run that has ended or is in no wait, or
 * where the workflow is paused.
 */
export async function actOnRun(
  db: Database,
  programs: Programs,
  shopId: string,
  runId: number,
  { did, person }: RunAct,
): Promise<void> {
  await db.transaction(async (tx) => {
    const run = await lockRun(tx, shopId, runId)
    if (!run) throw new AppError('not_found', 'There is no such run.')
    if (run.status !== 'inProgress') throw new AppError('conflict', 'They are not in it any more.')
    const { now } = await readClock(tx, shopId)
    const note = (entry: LedgerEntry): Promise<void> =>
      appendLedger(tx, shopId, now, [{ ...run, runId, entry }])
    if (did === 'takeOut') {
      await endRun(tx, shopId, runId, 'takenOut')
      await skipRest(tx, shopId, [runId])
      return note({ kind: 'takenOut', step: run.step, person })
    }
    const { workflow } = await findWorkflow(tx, shopId, run.workflowId)
    if (workflow.state === 'paused') {
      throw new AppError('conflict', 'The workflow is paused. Resume it, then end the wait.')
    }
    const program = await programs.get(tx, shopId, run.workflowId, run.version)
    const next = hurried(program, run, now)
    if (next === null || run.step === null) throw new AppError('conflict', 'They are in no wait now.')
    await keepStanding(tx, shopId, [{ id: runId, next, outcome: null }])
    return note({ kind: 'hurried', step: run.step, person })
  })
} // prettier-ignore
