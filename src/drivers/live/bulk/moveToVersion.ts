import type { Transaction } from '../../../backend/platform/db.ts'
import {
  appendLedger,
  holdRuns,
  setParked,
  setVersion,
  type BulkChange,
  type KeptRun,
  type LedgerRow,
} from '../../../backend/runs/index.ts'
import type { Shop } from '../../../backend/shop/index.ts'
import type { Instant } from '../../../core/shared/time.ts'
import { takeStep } from '../../../core/workflow/advance.ts'
import type { Program } from '../../../core/workflow/compile.ts'
import { loadFacts, type FactSource } from '../facts/index.ts'
import { moveRuns, requestOf } from '../moveRuns.ts'
import type { Programs } from '../programs.ts'

/**
 * Moves runs, locked by the caller, to the version of a change: to the step with the same key, with their wait reckoned anew.
 * Those whose step it does not have stay. While the workflow is paused nobody goes on from there. Returns the ids of those it moved.
 */
export async function moveToVersion(
  tx: Transaction,
  programs: Programs,
  shop: Shop,
  now: Instant,
  { change, runs, isPaused }: { change: BulkChange; runs: readonly KeptRun[]; isPaused: boolean },
): Promise<{ moved: number[] }> {
  const { workflowId, toVersion: to, person } = change
  if (to === null) throw new RangeError('A move that names no version')
  const program = await programs.get(tx, shop.id, workflowId, to)
  const able = runs.filter(({ step }) => step !== null && program.instructions.has(step))
  if (able.length === 0) return { moved: [] }
  const moved = able.map((run): KeptRun => ({ ...run, version: to, moved: true }))
  const ids = moved.map(({ id }) => id)
  await setVersion(tx, shop.id, ids, to)
  await appendLedger(
    tx,
    shop.id,
    now,
    able.map((run) => ({
      ...rowOf(run, to),
      entry: { kind: 'moved', step: run.step, from: run.version, to, person },
    })),
  )
  if (isPaused) await reckonHeld(tx, shop, program, now, moved)
  else {
    const anew = moved.map((run) => ({ ...run, dueAt: null }))
    await moveRuns(tx, programs, shop, now, anew)
  }
  return { moved: ids }
}

const rowOf = (run: KeptRun, version: number): Omit<LedgerRow, 'entry'> => ({
  workflowId: run.workflowId,
  version,
  runId: run.id,
  customerId: run.customerId,
  subjectId: run.subjectId,
})

/** Reckons the waits of runs of a paused workflow anew, so that resuming knows what is overdue; takes none further. */
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
  // What else they stand at is looked at once the pause is over.
  const others = runs.filter((run) => !waiting.includes(run))
  await holdRuns(tx, shop.id, others.map(({ id }) => id)) // prettier-ignore
  if (waiting.length === 0) return
  const requests = waiting.map((run) => requestOf(run, program))
  const source = await loadFacts(tx, shop, requests, now)
  const reckoned = waiting.map((run) => ({ run, ...waitOf(run, program, source) }))
  await setParked(
    tx,
    shop.id,
    now,
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
