import type { Database, Transaction } from '../../backend/platform/db.ts'
import { AppError } from '../../backend/platform/errors.ts'
import {
  appendLedger,
  lockOnOtherVersions,
  setParked,
  setVersion,
  type KeptRun,
  type LedgerRow,
} from '../../backend/runs/index.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import { findWorkflow } from '../../backend/workflows/index.ts'
import type { Instant } from '../../core/shared/time.ts'
import { takeStep } from '../../core/workflow/advance.ts'
import type { Program } from '../../core/workflow/compile.ts'
import { loadFacts, type FactSource } from './facts/index.ts'
import type { Programs } from './programs.ts'
import { moveRuns, requestOf } from './runDue.ts'

/** How many people were moved, and how many stay since the new version has no such step. */
export interface MoveCount {
  moved: number
  stay: number
}

/**
 * Moves the people in progress on older versions to the live one: to the step with the same key, with
 * their wait reckoned anew; those whose step it does not have stay. A message that a run has been
 * through is not sent a second time. While the workflow is paused nobody goes on from there. Throws
 * AppError `conflict` unless the workflow is live or paused.
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
    const { state, liveVersion: to } = workflow
    if ((state !== 'live' && state !== 'paused') || to === null) {
      throw new AppError('conflict', 'People can be moved while the workflow is live or paused.')
    }
    const { now } = await readClock(tx, shopId)
    const program = await programs.get(tx, shopId, workflowId, to)
    const runs = await lockOnOtherVersions(tx, shopId, workflowId, to)
    const able = runs.filter(({ step }) => step !== null && program.instructions.has(step))
    const moved = able.map((run): KeptRun => ({ ...run, version: to, moved: true }))
    await setVersion(
      tx,
      shopId,
      moved.map(({ id }) => id),
      to,
    )
    await appendLedger(
      tx,
      shopId,
      now,
      able.map((run) => ({
        ...rowOf(run, to),
        entry: { kind: 'moved', step: run.step, from: run.version, to, person },
      })),
    )
    if (moved.length > 0 && state === 'paused') await reckonHeld(tx, shop, program, now, moved)
    else if (moved.length > 0) {
      const anew = moved.map((run) => ({ ...run, dueAt: null }))
      await moveRuns(tx, programs, shop, now, anew)
    }
    return { moved: moved.length, stay: runs.length - moved.length }
  })
}

const rowOf = (run: KeptRun, version: number): Omit<LedgerRow, 'entry'> => ({
  workflowId: run.workflowId,
  version,
  runId: run.id,
  customerId: run.customerId,
  subjectId: run.subjectId,
})

/** Reckons the waits of held runs anew, so that resuming knows what is overdue; takes none further. */
async function reckonHeld(
  tx: Transaction,
  shop: Shop,
  program: Program,
  now: Instant,
  runs: readonly KeptRun[],
): Promise<void> {
  const waiting = runs.filter(({ step }) => {
    const kind = step === null ? undefined : program.instructions.get(step)?.kind
    return kind === 'wait' || kind === 'until'
  })
  if (waiting.length === 0) return
  const requests = waiting.map((run) => requestOf(run, program))
  const source = await loadFacts(tx, shop, requests, now)
  const reckoned = waiting.map((run) => ({ run, ...waitOf(run, program, source) }))
  await setParked(
    tx,
    shop.id,
    reckoned.map(({ run, until }) => ({ id: run.id, until })),
  )
  const said = reckoned.flatMap(({ run, entry }) =>
    entry ? [{ ...rowOf(run, run.version), entry }] : [],
  )
  await appendLedger(tx, shop.id, now, said)
}

/**
 * When the wait that a run stands at is over, and what the ledger says of it while it is not. Null for
 * a date that is past in the new version: what follows from that is decided once it goes on.
 */
function waitOf(
  run: KeptRun,
  program: Program,
  source: FactSource,
): { until: Instant | null; entry: LedgerRow['entry'] | null } {
  const facts = source.of(requestOf(run, program))
  const { decision, next, stop } = takeStep(program, { ...run, dueAt: null }, facts)
  if (stop && next.status === 'inProgress') return { until: next.dueAt, entry: decision }
  const isDate = run.step !== null && program.instructions.get(run.step)?.kind === 'until'
  return { until: isDate ? null : next.since, entry: null }
}
