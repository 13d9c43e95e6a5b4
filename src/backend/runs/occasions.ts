import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import { arrayOf, document, rowsOf, type Db } from '../platform/db.ts'

const cameRow = z.object({
  event: z.string(),
  /** The run that it started. */
  runId: z.int().nullable(),
  /** Why they were turned away; null where they were not. */
  turnedAway: z.nullable(document<LedgerEntry>()),
  /** The workflow had not been live yet. */
  isBeforeLive: z.boolean(),
  /** What it was when the event came in: null where that was not noted. */
  state: z.enum(['live', 'paused', 'retired']).nullable(),
})
/** What a workflow made of an event that could have started it. */
export type CameOf = z.infer<typeof cameRow>

/**
 * What a workflow made of events of one customer, by their ids. None of it where nothing was decided: it was not live
 * then, or paused, or the event was not one that it begins with.
 */
export function whatCameOf(
  db: Db,
  shopId: string,
  { workflowId, customerId, events }: { workflowId: string; customerId: string; events: string[] },
): Promise<CameOf[]> {
  return rowsOf(
    db,
    cameRow,
    sql`select e.event_id as event, started.id as "runId", turned.entry as "turnedAway",
      e.received_at < coalesce(first.at, e.received_at + 1) as "isBeforeLive",
      (select s.state from workflow_states s where s.shop_id = e.shop_id and s.workflow_id = ${workflowId}
        and s.at <= e.received_at order by s.at desc, s.ctid desc limit 1) as state
    from events e
    cross join lateral (
      select min(published_at) as at from workflow_versions
      where shop_id = e.shop_id and workflow_id = ${workflowId}
    ) first
    left join lateral (
      select r.id from runs r where r.shop_id = e.shop_id and r.customer_id = e.customer_id
        and r.workflow_id = ${workflowId} and r.event_seq = e.seq order by r.id limit 1
    ) started on true
    left join lateral (
      select l.entry from ledger l where l.shop_id = e.shop_id and l.customer_id = e.customer_id
        and l.workflow_id = ${workflowId} and l.kind = 'turnedAway'
        and l.subject_id is not distinct from e.subject_id and l.at >= e.received_at
      order by l.id limit 1
    ) turned on started.id is null
    where e.shop_id = ${shopId} and e.customer_id = ${customerId}
      and e.event_id = any(${arrayOf(events, 'text')})`,
  )
}
