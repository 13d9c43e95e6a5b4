import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { arrayOf, rowsOf, type Database, type Transaction } from '../../backend/platform/db.ts'
import { wakeRuns } from '../../backend/runs/index.ts'
import { findShop, readClock, type Shop, lockCustomers } from '../../backend/shop/index.ts'
import { EVENT_TYPES, isStatusChange, type EventType } from '../../core/events/eventTypes.ts'
import type { Facts } from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'
import { matchesTrigger } from '../../core/workflow/start.ts'
import { enterAll, factRequest, type Candidate } from './enter.ts'
import { loadFacts, type FactSource } from './facts/index.ts'
import { liveWorkflows, type LiveWorkflow } from './liveWorkflows.ts'
import { letInAtOnce } from './nearDates.ts'
import type { Programs } from './programs.ts'

const arrivalRow = z.object({
  seq: z.number(),
  type: z.enum(EVENT_TYPES),
  at: z.number(),
  customerId: z.string(),
  subjectId: z.string().nullable(),
  /** For changes of status. */
  from: z.string().nullable(),
  to: z.string().nullable(),
})
type Arrival = z.infer<typeof arrivalRow>

/**
 * Looks at events that have arrived: starts the runs they start, takes each as far as it goes, and
 * wakes those that were waiting for them; all in one transaction. An event is looked at once, however
 * often this is called for it.
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
    if (arrivals.length === 0) return
    const { now } = await readClock(tx, shopId)
    await wakeRuns(tx, shopId, now, arrivals)
    const types = new Set<EventType>(arrivals.map((arrival) => arrival.type))
    const workflows = await liveWorkflows(tx, programs, shopId, ({ definition: { trigger } }) =>
      trigger.kind === 'event' ? types.has(trigger.event) : trigger.kind === 'date',
    )
    await letInByEvents(tx, shop, now, arrivals, workflows)
    await letInAtOnce(tx, shop, now, arrivals, workflows)
  })
}

async function letInByEvents(
  tx: Transaction,
  shop: Shop,
  now: Instant,
  arrivals: readonly Arrival[],
  workflows: readonly LiveWorkflow[],
): Promise<void> {
  const candidates = candidatesFor(arrivals, workflows)
  if (candidates.length === 0) return
  await lockCustomers(
    tx,
    shop.id,
    candidates.map(({ customerId }) => customerId),
  )
  const requests = candidates.map(factRequest)
  const source = await loadFacts(tx, shop, requests, now, { consideredOnly: true })
  await enterAll(tx, shop, now, candidates, source, asOneByOne(arrivals, source))
}

/** Marks the events as looked at; those that another worker has marked are not returned. */
async function takeArrivals(
  tx: Transaction,
  shopId: string,
  seqs: readonly number[],
): Promise<Arrival[]> {
  const rows = await rowsOf(
    tx,
    arrivalRow,
    sql`update events set considered = true
    where shop_id = ${shopId} and seq = any(${arrayOf(seqs, 'bigint')}) and not considered
    returning seq, type, time as at, customer_id as "customerId", subject_id as "subjectId",
      data->>'from' as "from", coalesce(data->>'to', data->'subscription'->>'status') as "to"`,
  )
  return rows.toSorted((a, b) => a.at - b.at || a.seq - b.seq)
}

/** Every event with every workflow whose trigger it is: in order of time, then of priority. */
function candidatesFor(
  arrivals: readonly Arrival[],
  workflows: readonly LiveWorkflow[],
): Candidate[] {
  return arrivals.flatMap((arrival) => {
    const { seq, at, type, customerId, subjectId, from, to } = arrival
    const change = isStatusChange(type) && to !== null ? { from, to } : null
    const cause = { by: 'event' } as const
    return workflows
      .filter(({ program }) => matchesTrigger(program, { at, type, change, cause }))
      .map((workflow) => ({
        workflow,
        idempotencyKey: `event:${seq}`,
        at,
        cause,
        customerId,
        subjectId: workflow.program.subject === 'customer' ? null : subjectId,
        line: null,
        eventSeq: seq,
      }))
  })
}

/**
 * Each event sees those before it and none of those behind it that came in with it: a batch means the
 * same as its events one by one.
 */
function asOneByOne(
  arrivals: readonly Arrival[],
  source: FactSource,
): (candidate: Candidate) => Facts {
  const place = new Map(arrivals.map(({ seq }, index) => [seq, index]))
  return (candidate) => {
    const facts = source.of(factRequest(candidate))
    const own = place.get(candidate.eventSeq ?? -1) ?? Infinity
    return { ...facts, history: facts.history.filter(({ seq }) => (place.get(seq) ?? -1) <= own) }
  }
}
