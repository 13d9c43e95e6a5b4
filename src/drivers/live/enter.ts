import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { arrayOf, rowsOf, type Db, type Transaction } from '../../backend/platform/db.ts'
import { insertRuns } from '../../backend/runs/index.ts'
import type { Shop } from '../../backend/shop/index.ts'
import type { Facts } from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'
import { advance } from '../../core/workflow/advance.ts'
import type { Decision } from '../../core/workflow/decision.ts'
import { outcomeOf } from '../../core/workflow/outcome.ts'
import { freshRun, type RunState } from '../../core/workflow/runState.ts'
import { considerStart, type EntryHistory, type Occasion } from '../../core/workflow/start.ts'
import { isPerLine } from '../../core/workflow/trigger.ts'
import type { FactRequest, FactSource } from './facts/index.ts'
import type { LiveWorkflow } from './liveWorkflows.ts'
import type { DecidedRow } from './decidedRow.ts'
import { record } from './record.ts'

/** Somebody who may enter a workflow, and what brings them. */
export interface Candidate extends Pick<Occasion, 'at' | 'cause'> {
  workflow: LiveWorkflow
  /**
   * When their run begins, where that is later than what brings them: waits count from here, while filter and
   * exclusions are asked about all that has been since.
   */
  entersAt?: Instant
  /** Names what brings them, the same each time it is tried: for each a run is made once. */
  idempotencyKey: string
  customerId: string
  subjectId: string | null
  line: number | null
  eventSeq: number | null
}

interface Considered {
  candidate: Candidate
  decisions: Decision[]
  /** Null for those who were turned away. */
  next: RunState | null
}

/** How many entered and how many were turned away. */
export interface EntryCount {
  entered: number
  turnedAway: number
}

/** What a candidate's program may ask about. */
export function factRequest(candidate: Candidate): FactRequest {
  const { workflow, customerId, subjectId, line, eventSeq } = candidate
  const { program } = workflow
  return {
    customerId,
    workflowId: workflow.id,
    runId: null,
    subjectKind: program.subject,
    subjectId,
    line,
    eventSeq: program.subject === 'customer' ? eventSeq : null,
    needs: program.needs,
  }
}

/**
 * Lets candidates in or turns them away, one after the other, so that each sees the entries of those
 * before it; takes every new run as far as it goes; and writes it all down. The customers must be
 * locked. `factsOf` may narrow what a candidate sees.
 */
export async function enterAll(
  tx: Transaction,
  shop: Shop,
  now: Instant,
  candidates: readonly Candidate[],
  source: FactSource,
  factsOf: (candidate: Candidate) => Facts = (candidate) => source.of(factRequest(candidate)),
): Promise<EntryCount> {
  const entries = await entryHistories(tx, shop.id, candidates)
  const considered: Considered[] = []
  for (const candidate of candidates) {
    // Whoever was erased meanwhile is nobody who could enter.
    if (!source.has(candidate.customerId)) continue
    for (const one of eachLine(candidate, factsOf(candidate))) {
      considered.push(consider(one, withLine(factsOf(candidate), one.line), entries, source))
    }
  }
  await recordStarts(tx, shop, now, considered)
  const entered = considered.filter(({ next }) => next !== null).length
  return { entered, turnedAway: considered.length - entered }
}

/**
 * For workflows per line, one candidate for each line that the trigger filter holds for; the order
 * itself where there is none, so that it is turned away once.
 */
export function eachLine(candidate: Candidate, facts: Facts): Candidate[] {
  const { program } = candidate.workflow
  if (candidate.line !== null || !isPerLine(program.definition.trigger)) return [candidate]
  const { filter } = program
  const matching = (facts.order?.lines ?? []).flatMap((_, line) => {
    const holds = !filter || filter.holds({ facts: withLine(facts, line), enteredAt: candidate.at })
    return holds
      ? [{ ...candidate, line, idempotencyKey: `${candidate.idempotencyKey}:${line}` }]
      : []
  })
  return matching.length > 0 ? matching : [candidate]
}

/** The facts with one line of the order in sight. */
export const withLine = (facts: Facts, line: number | null): Facts =>
  line === null ? facts : { ...facts, line: facts.order?.lines[line] ?? null }

function consider(
  candidate: Candidate,
  facts: Facts,
  entries: Map<string, EntryHistory>,
  source: FactSource,
): Considered {
  const { workflow, customerId, at } = candidate
  const key = entryKey(workflow.id, customerId)
  const earlier = entries.get(key) ?? { lastEnteredAt: null, inProgress: false }
  const decision = considerStart(workflow.program, candidate, facts, earlier)
  if (decision.kind === 'turnedAway') return { candidate, decisions: [decision], next: null }
  const entersAt = candidate.entersAt ?? at
  const run = advance(workflow.program, freshRun(workflow.program, entersAt), facts)
  source.keep(run.facts)
  entries.set(key, {
    lastEnteredAt: Math.max(earlier.lastEnteredAt ?? -Infinity, entersAt),
    inProgress: earlier.inProgress || run.next.status === 'inProgress',
  })
  return { candidate, decisions: [decision, ...run.decisions], next: run.next }
}

/** What somebody's entries into a workflow go by. */
export const entryKey = (workflowId: string, customerId: string): string =>
  JSON.stringify([workflowId, customerId])

const entryRow = z.object({
  workflowId: z.string(),
  customerId: z.string(),
  lastEnteredAt: z.number(),
  inProgress: z.boolean(),
})

/** What is known of the earlier entries of candidates, by `entryKey`. */
export async function entryHistories(
  db: Db,
  shopId: string,
  candidates: readonly Candidate[],
): Promise<Map<string, EntryHistory>> {
  const workflowIds = [...new Set(candidates.map(({ workflow }) => workflow.id))]
  const customerIds = [...new Set(candidates.map(({ customerId }) => customerId))]
  const rows = await rowsOf(
    db,
    entryRow,
    sql`select workflow_id as "workflowId", customer_id as "customerId",
      max(entered_at) as "lastEnteredAt", bool_or(status = 'inProgress') as "inProgress"
    from runs where shop_id = ${shopId} and workflow_id = any(${arrayOf(workflowIds, 'text')})
      and customer_id = any(${arrayOf(customerIds, 'text')})
    group by workflow_id, customer_id`,
  )
  return new Map(rows.map((row) => [entryKey(row.workflowId, row.customerId), row]))
}

async function recordStarts(
  tx: Transaction,
  shop: Shop,
  now: Instant,
  considered: readonly Considered[],
): Promise<void> {
  const started = considered.filter((one): one is Started => one.next !== null)
  const ids = await insertRuns(
    tx,
    shop.id,
    started.map(({ candidate, decisions, next }) => ({
      workflowId: candidate.workflow.id,
      version: candidate.workflow.version,
      customerId: candidate.customerId,
      subjectId: candidate.subjectId,
      line: candidate.line,
      idempotencyKey: candidate.idempotencyKey,
      eventSeq: candidate.eventSeq,
      ...next,
      outcome: outcomeOf(next, decisions),
    })),
  )
  const idOf = new Map<Considered, number>(started.map((one, index) => [one, ids[index] ?? 0]))
  const rows = considered.flatMap((one): DecidedRow[] =>
    one.decisions.map((entry) => ({
      workflowId: one.candidate.workflow.id,
      version: one.candidate.workflow.version,
      program: one.candidate.workflow.program,
      customerId: one.candidate.customerId,
      subjectId: one.candidate.subjectId,
      runId: idOf.get(one) ?? null,
      entry,
    })),
  )
  await record(tx, shop, now, rows)
}

interface Started extends Considered {
  next: RunState
}
