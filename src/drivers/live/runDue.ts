import { sql } from 'drizzle-orm'
import { recordsOf, rowsOf, type Database, type Transaction } from '../../backend/platform/db.ts'
import { toError } from '../../backend/platform/errors.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import type { Instant } from '../../core/shared/time.ts'
import { advance, type RunState } from '../../core/workflow/advance.ts'
import type { Program } from '../../core/workflow/compile.ts'
import type { LedgerEntry } from '../../core/words/decisions.ts'
import { loadFacts, type FactSource } from './loadFacts.ts'
import type { Programs } from './programs.ts'
import { appendLedger, queueMessages, type LedgerRow } from './record.ts'
import { outcomeOf } from './startRuns.ts'

export interface DueRun extends RunState, Record<string, unknown> {
  id: number
  workflowId: string
  version: number
  customerId: string
  orderId: string | null
}

interface Moved {
  run: DueRun
  entries: LedgerEntry[]
  next: RunState
  outcome: 'left' | 'completed' | null
}

/** How many runs one transaction takes on. */
export const BATCH_SIZE = 500

/**
 * Takes the runs of a shop that are due, at most a batch, and moves each as far as it goes. State,
 * ledger, messages and jobs are committed together; a crash before that leaves the runs due.
 * Returns how many it took, 0 when nothing is due that another worker has not taken.
 */
export async function runDue(
  db: Database,
  programs: Programs,
  shopId: string,
  limit = BATCH_SIZE,
): Promise<number> {
  const shop = await findShop(db, shopId)
  return db.transaction(async (tx) => {
    const { now } = await readClock(tx, shopId)
    const due = await claimDue(tx, shopId, now, limit)
    if (due.length === 0) return 0
    const programOf = await programsOf(tx, programs, shopId, due)
    const requests = due.map((run) => ({ ...run, counts: programOf(run).counts }))
    const facts = await loadFacts(tx, shop, requests, now)
    const moved = due.map((run) => move(run, programOf(run), facts))
    await recordMoves(tx, shop, now, moved)
    return due.length
  })
}

async function claimDue(
  tx: Transaction,
  shopId: string,
  now: Instant,
  limit: number,
): Promise<DueRun[]> {
  return rowsOf<DueRun>(
    tx,
    sql`select id, workflow_id as "workflowId", version, customer_id as "customerId",
      order_id as "orderId", entered_at as "enteredAt", status, step, since, due_at as "dueAt"
    from runs where shop_id = ${shopId} and due_at <= ${now}
    order by due_at, id limit ${limit} for update skip locked`,
  )
}

async function programsOf(
  tx: Transaction,
  programs: Programs,
  shopId: string,
  runs: readonly DueRun[],
): Promise<(run: DueRun) => Program> {
  const keyOf = (run: DueRun): string => `${run.workflowId}@${run.version}`
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

/** Moves one run. One that cannot go on is put aside for repair and does not hold up the others. */
function move(run: DueRun, program: Program, factsOf: FactSource): Moved {
  try {
    const { decisions, next } = advance(program, run, factsOf(run))
    return { run, entries: decisions, next, outcome: outcomeOf(next, decisions) }
  } catch (error) {
    const entry: LedgerEntry = { kind: 'stuck', step: run.step, error: toError(error).message }
    return { run, entries: [entry], next: { ...run, dueAt: null }, outcome: null }
  }
}

async function recordMoves(
  tx: Transaction,
  shop: Shop,
  now: Instant,
  moved: readonly Moved[],
): Promise<void> {
  const records = moved.map(({ run, next, outcome }) => ({
    id: run.id,
    status: next.status,
    step: next.step,
    since: next.since,
    dueAt: next.dueAt,
    outcome,
  }))
  await tx.execute(sql`
    update runs set status = r.status, step = r.step, since = r.since, due_at = r."dueAt",
      outcome = r.outcome
    from jsonb_to_recordset(${recordsOf(records)}) as r(id bigint, status text, step text,
      since bigint, "dueAt" bigint, outcome text)
    where runs.shop_id = ${shop.id} and runs.id = r.id`)
  const rows = moved.flatMap(({ run, entries }): LedgerRow[] =>
    entries.map((entry) => ({
      workflowId: run.workflowId,
      version: run.version,
      runId: run.id,
      customerId: run.customerId,
      orderId: run.orderId,
      entry,
    })),
  )
  await appendLedger(tx, shop.id, now, rows)
  await queueMessages(tx, shop, now, rows)
}
