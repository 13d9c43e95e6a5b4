import { sql } from 'drizzle-orm'
import {
  arrayOf,
  recordsOf,
  rowsOf,
  type Database,
  type Db,
  type Transaction,
} from '../../backend/platform/db.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import type { EventType } from '../../core/events/eventTypes.ts'
import type { Instant } from '../../core/shared/time.ts'
import { advance, freshRun, type RunState } from '../../core/workflow/advance.ts'
import type { Program } from '../../core/workflow/compile.ts'
import type { Decision } from '../../core/workflow/decision.ts'
import { considerStart, type EntryHistory } from '../../core/workflow/start.ts'
import { loadFacts, type FactSource } from './loadFacts.ts'
import type { Programs } from './programs.ts'
import { appendLedger, queueMessages, type LedgerRow } from './record.ts'

interface Arrival extends Record<string, unknown> {
  seq: number
  type: EventType
  at: Instant
  customerId: string
  orderId: string | null
}

interface LiveWorkflow {
  id: string
  version: number
  program: Program
}

interface Started {
  workflow: LiveWorkflow
  arrival: Arrival
  decisions: Decision[]
  next: RunState
}

interface TurnedAway {
  workflow: LiveWorkflow
  arrival: Arrival
  decision: Decision
}

/**
 * Looks at events that have arrived, starts the runs they start and takes each as far as it goes:
 * all in one transaction. An event is looked at once, however often this is called for it.
 */
export async function startRuns(
  db: Database,
  programs: Programs,
  shopId: string,
  seqs: readonly number[],
): Promise<void> {
  const shop = await findShop(db, shopId)
  await db.transaction(async (tx) => {
    const arrivals = await takeArrivals(tx, shopId, seqs)
    const workflows = await liveWorkflows(tx, programs, shopId, arrivals)
    if (workflows.length === 0) return
    await lockCustomers(tx, shopId, arrivals)
    const { now } = await readClock(tx, shopId)
    const counts = new Set(workflows.flatMap(({ program }) => [...program.counts]))
    const facts = await loadFacts(
      tx,
      shop,
      arrivals.map((arrival) => ({ ...arrival, counts })),
      now,
      { consideredOnly: true },
    )
    const entries = await entryHistories(tx, shopId, workflows, arrivals)
    const { started, turnedAway } = considerAll(arrivals, workflows, facts, entries)
    await recordStarts(tx, shop, now, started, turnedAway)
  })
}

/** Marks the events as looked at; those that another worker has marked are not returned. */
async function takeArrivals(
  tx: Transaction,
  shopId: string,
  seqs: readonly number[],
): Promise<Arrival[]> {
  const rows = await rowsOf<Arrival>(
    tx,
    sql`update events set considered = true
    where shop_id = ${shopId} and seq = any(${arrayOf(seqs, 'bigint')}) and not considered
    returning seq, type, time as at, customer_id as "customerId", order_id as "orderId"`,
  )
  return rows.toSorted((a, b) => a.at - b.at || a.seq - b.seq)
}

/** The live workflows these events may concern: highest priority first, then the older. */
async function liveWorkflows(
  db: Db,
  programs: Programs,
  shopId: string,
  arrivals: readonly Arrival[],
): Promise<LiveWorkflow[]> {
  if (arrivals.length === 0) return []
  const rows = await rowsOf<{ id: string; version: number }>(
    db,
    sql`select id, live_version as version from workflows
    where shop_id = ${shopId} and state = 'live' order by created_at, id`,
  )
  const types = new Set<EventType>(arrivals.map((arrival) => arrival.type))
  const workflows: LiveWorkflow[] = []
  for (const { id, version } of rows) {
    const program = await programs.get(db, shopId, id, version)
    if (types.has(program.definition.trigger.event)) workflows.push({ id, version, program })
  }
  return workflows.toSorted((a, b) => b.program.definition.priority - a.program.definition.priority)
}

/** Two workers that start runs for one person take turns, or an entry limit would not hold. */
async function lockCustomers(db: Db, shopId: string, arrivals: readonly Arrival[]): Promise<void> {
  const ids = arrivals.map((arrival) => arrival.customerId)
  await db.execute(sql`
    select 1 from customers where shop_id = ${shopId} and id = any(${arrayOf(ids, 'text')})
    order by id for no key update`)
}

const entryKey = (workflowId: string, customerId: string): string =>
  JSON.stringify([workflowId, customerId])

async function entryHistories(
  db: Db,
  shopId: string,
  workflows: readonly LiveWorkflow[],
  arrivals: readonly Arrival[],
): Promise<Map<string, EntryHistory>> {
  const rows = await rowsOf<
    { workflowId: string; customerId: string } & EntryHistory & Record<string, unknown>
  >(
    db,
    sql`select workflow_id as "workflowId", customer_id as "customerId",
      max(entered_at) as "lastEnteredAt", bool_or(status = 'inProgress') as "inProgress"
    from runs where shop_id = ${shopId}
      and workflow_id = any(${arrayOf(
        workflows.map(({ id }) => id),
        'text',
      )})
      and customer_id = any(${arrayOf(
        arrivals.map(({ customerId }) => customerId),
        'text',
      )})
    group by workflow_id, customer_id`,
  )
  return new Map(rows.map((row) => [entryKey(row.workflowId, row.customerId), row]))
}

/**
 * Tries every event on every workflow, in order of time, so that each sees the events and entries
 * before it and none of those behind it: a batch means the same as its events one by one.
 */
function considerAll(
  arrivals: readonly Arrival[],
  workflows: readonly LiveWorkflow[],
  factsOf: FactSource,
  entries: Map<string, EntryHistory>,
): { started: Started[]; turnedAway: TurnedAway[] } {
  const started: Started[] = []
  const turnedAway: TurnedAway[] = []
  const stillToCome = new Set(arrivals.map(({ seq }) => seq))
  for (const arrival of arrivals) {
    stillToCome.delete(arrival.seq)
    const known = factsOf(arrival)
    const facts = { ...known, history: known.history.filter(({ seq }) => !stillToCome.has(seq)) }
    for (const workflow of workflows) {
      const key = entryKey(workflow.id, arrival.customerId)
      const earlier = entries.get(key) ?? { lastEnteredAt: null, inProgress: false }
      const decision = considerStart(workflow.program, arrival, facts, earlier)
      if (decision?.kind === 'turnedAway') turnedAway.push({ workflow, arrival, decision })
      if (decision?.kind !== 'entered') continue
      const run = advance(workflow.program, freshRun(workflow.program, arrival.at), facts)
      started.push({ workflow, arrival, decisions: [decision, ...run.decisions], next: run.next })
      const inProgress = earlier.inProgress || run.next.status === 'inProgress'
      const lastEnteredAt = Math.max(earlier.lastEnteredAt ?? -Infinity, arrival.at)
      entries.set(key, { lastEnteredAt, inProgress })
    }
  }
  return { started, turnedAway }
}

function subjectOf({ workflow, arrival }: { workflow: LiveWorkflow; arrival: Arrival }) {
  return {
    workflowId: workflow.id,
    version: workflow.version,
    customerId: arrival.customerId,
    orderId: arrival.orderId,
  }
}

async function recordStarts(
  tx: Transaction,
  shop: Shop,
  now: Instant,
  started: readonly Started[],
  turnedAway: readonly TurnedAway[],
): Promise<void> {
  const ids = await insertRuns(tx, shop.id, started)
  const rows: LedgerRow[] = [
    ...turnedAway.map((one) => ({ ...subjectOf(one), runId: null, entry: one.decision })),
    ...started.flatMap((one, index) =>
      one.decisions.map((entry) => ({ ...subjectOf(one), runId: ids[index] ?? null, entry })),
    ),
  ]
  await appendLedger(tx, shop.id, now, rows)
  await queueMessages(tx, shop, now, rows)
}

/** Inserts the runs and returns their ids, in the same order. */
async function insertRuns(
  tx: Transaction,
  shopId: string,
  started: readonly Started[],
): Promise<number[]> {
  if (started.length === 0) return []
  const numbers = await rowsOf<{ id: number }>(
    tx,
    sql`select nextval(pg_get_serial_sequence('runs', 'id')) as id
    from generate_series(1, ${started.length})`,
  )
  const ids = numbers.map((row) => row.id)
  const records = started.map(({ workflow, arrival, decisions, next }, index) => ({
    id: ids[index],
    workflowId: workflow.id,
    version: workflow.version,
    customerId: arrival.customerId,
    orderId: arrival.orderId,
    eventSeq: arrival.seq,
    ...next,
    outcome: outcomeOf(next, decisions),
  }))
  await tx.execute(sql`
    insert into runs (shop_id, id, workflow_id, version, customer_id, order_id, event_seq,
      entered_at, status, step, since, due_at, outcome)
    overriding system value
    select ${shopId}, r.id, r."workflowId", r.version, r."customerId", r."orderId", r."eventSeq",
      r."enteredAt", r.status, r.step, r.since, r."dueAt", r.outcome
    from jsonb_to_recordset(${recordsOf(records)}) as r(id bigint, "workflowId" text, version int,
      "customerId" text, "orderId" text, "eventSeq" bigint, "enteredAt" bigint, status text,
      step text, since bigint, "dueAt" bigint, outcome text)`)
  return ids
}

/** How a run that has ended came to its end; null while it is in progress. */
export function outcomeOf(
  next: RunState,
  decisions: readonly Decision[],
): 'left' | 'completed' | null {
  if (next.status !== 'ended') return null
  return decisions.some((decision) => decision.kind === 'left') ? 'left' : 'completed'
}
