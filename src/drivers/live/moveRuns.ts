import type { Transaction } from '../../backend/platform/db.ts'
import { toError } from '../../backend/platform/errors.ts'
import { keepStanding, type KeptRun } from '../../backend/runs/index.ts'
import { lockCustomers, type Shop } from '../../backend/shop/index.ts'
import { grouped } from '../../core/shared/grouped.ts'
import type { Instant } from '../../core/shared/time.ts'
import { advance } from '../../core/workflow/advance.ts'
import type { Program } from '../../core/workflow/compile.ts'
import { outcomeOf } from '../../core/workflow/outcome.ts'
import type { RunState } from '../../core/workflow/runState.ts'
import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import { loadFacts, type FactRequest, type FactSource } from './facts/index.ts'
import type { Programs } from './programs.ts'
import type { DecidedRow } from './decidedRow.ts'
import { record } from './record.ts'

interface Moved {
  run: KeptRun
  program: Program
  entries: LedgerEntry[]
  next: RunState
  outcome: 'left' | 'completed' | null
}

/** Moves runs that the caller has locked, each as far as it goes, and writes it all down. */
export async function moveRuns(
  tx: Transaction,
  programs: Programs,
  shop: Shop,
  now: Instant,
  runs: readonly KeptRun[],
): Promise<void> {
  const programOf = await programsOf(tx, programs, shop.id, runs)
  // Two workers that move runs of one person take turns, or the message gap and the caps would not hold.
  const isLimited = shop.messageGap !== null || (shop.caps ?? []).length > 0
  if (isLimited && runs.some((run) => programOf(run).needs.messages)) {
    await lockCustomers(
      tx,
      shop.id,
      runs.map(({ customerId }) => customerId),
    )
  }
  const requests = runs.map((run) => requestOf(run, programOf(run)))
  const source = await loadFacts(tx, shop, requests, now)
  const moved = inTurn(runs, programOf).map((run) => move(run, programOf(run), source))
  await recordMoves(tx, shop, now, moved)
}

/**
 * Of the runs of one person that are due at the same moment, those of the workflow with the highest priority go first: where
 * a gap or a cap has held several back, only one of them can go.
 */
function inTurn(runs: readonly KeptRun[], programOf: (run: KeptRun) => Program): KeptRun[] {
  const priority = (run: KeptRun): number => programOf(run).definition.priority
  const groups = [...grouped(runs, ({ customerId, dueAt }) => `${dueAt} ${customerId}`).values()]
  return groups.flatMap((own) => own.toSorted((a, b) => priority(b) - priority(a) || a.id - b.id))
}

/** What the program of a run may ask about. */
export function requestOf(run: KeptRun, program: Program): FactRequest {
  return {
    customerId: run.customerId,
    workflowId: run.workflowId,
    runId: run.id,
    subjectKind: program.subject,
    subjectId: run.subjectId,
    line: run.line,
    eventSeq: program.subject === 'customer' ? run.eventSeq : null,
    // After a move, a step that has been taken may come again.
    needs: run.moved ? { ...program.needs, messages: true } : program.needs,
  }
}

/** The program of each run: of the version it is on. */
export async function programsOf(
  tx: Transaction,
  programs: Programs,
  shopId: string,
  runs: readonly KeptRun[],
): Promise<(run: KeptRun) => Program> {
  const keyOf = (run: KeptRun): string => `${run.workflowId}@${run.version}`
  const found = new Map<string, Program>()
  for (const run of runs) {
    if (found.has(keyOf(run))) continue
    found.set(keyOf(run), await programs.get(tx, shopId, run.workflowId, run.version))
  }
  return (run) => {
    const program = found.get(keyOf(run))
    if (!program) throw new RangeError(`No program for ${keyOf(run)}`)
    return program
  }
}

/** Takes one run as far as it goes, and writes nothing down. One that cannot go on is put aside for repair and does not hold up the others. */
export function move(run: KeptRun, program: Program, source: FactSource): Moved {
  try {
    const { decisions, next, facts } = advance(program, run, source.of(requestOf(run, program)))
    source.keep(facts)
    return { run, program, entries: decisions, next, outcome: outcomeOf(next, decisions) }
  } catch (error) {
    const entry: LedgerEntry = { kind: 'stuck', step: run.step, error: toError(error).message }
    return { run, program, entries: [entry], next: { ...run, dueAt: null }, outcome: null }
  }
}

async function recordMoves(
  tx: Transaction,
  shop: Shop,
  now: Instant,
  moved: readonly Moved[],
): Promise<void> {
  await keepStanding(
    tx,
    shop.id,
    moved.map(({ run, next, outcome }) => ({ id: run.id, next, outcome })),
  )
  const rows = moved.flatMap(({ run, program, entries }): DecidedRow[] =>
    entries.map((entry) => ({
      workflowId: run.workflowId,
      version: run.version,
      program,
      runId: run.id,
      customerId: run.customerId,
      subjectId: run.subjectId,
      entry,
    })),
  )
  await record(tx, shop, now, rows)
}
