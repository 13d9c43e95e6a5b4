import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { arrayOf, document, rowsOf, type Db } from '../../../backend/platform/db.ts'
import { CUSTOMER_CHANNELS } from '../../../core/channels/catalogue.ts'
import type { EventData } from '../../../core/events/cloudEvent.ts'
import { entityFacts } from '../../../core/events/entityFacts.ts'
import { EVENT_TYPES, type EventType } from '../../../core/events/eventTypes.ts'
import type { CouponFacts, PastEntry } from '../../../core/events/facts.ts'
import type { Instant } from '../../../core/shared/time.ts'
import { grouped } from '../../../core/shared/grouped.ts'
import type { ArrivedEvent, KeptMessage } from './request.ts'

const eventRow = z.object({
  seq: z.number(),
  customerId: z.string(),
  type: z.enum(EVENT_TYPES),
  at: z.number(),
  subjectId: z.string().nullable(),
  data: document<EventData>().nullable(),
})
const entryRow = z.object({
  customerId: z.string(),
  workflowId: z.string(),
  runId: z.number(),
  enteredAt: z.number(),
  inProgress: z.boolean(),
})
const messageRow = z.object({
  id: z.number(),
  customerId: z.string(),
  workflowId: z.string(),
  runId: z.number(),
  step: z.string(),
  at: z.number(),
  marketing: z.boolean(),
  channel: z.enum(CUSTOMER_CHANNELS),
  openedAt: z.number().nullable(),
  clickedAt: z.number().nullable(),
})
const couponRow = z.object({
  runId: z.number(),
  step: z.string(),
  code: z.string(),
  expiresAt: z.number().nullable(),
})

/** The events of customers, of the types that are counted; with their entity where it is asked for. */
export async function loadHistory(
  db: Db,
  shopId: string,
  customerIds: readonly string[],
  types: ReadonlyMap<EventType, boolean>,
  now: Instant,
  consideredOnly: boolean,
): Promise<Map<string, ArrivedEvent[]>> {
  if (types.size === 0) return new Map()
  const withEntity = [...types].flatMap(([type, entity]) => (entity ? [type] : []))
  const rows = await rowsOf(
    db,
    eventRow,
    sql`select seq, customer_id as "customerId", type, time as at, subject_id as "subjectId",
      case when type = any(${arrayOf(withEntity, 'text')}) then data end as data
    from events where shop_id = ${shopId} and customer_id = any(${arrayOf(customerIds, 'text')})
      and type = any(${arrayOf([...types.keys()], 'text')}) and time <= ${now}
      and (considered or not ${consideredOnly})`,
  )
  const events = rows.map(({ data, ...row }) =>
    data === null ? row : { ...row, entity: entityFacts(row.type, data, row.at) },
  )
  return grouped(events, (row) => row.customerId)
}

/** The entries of customers into any workflow. */
export async function loadEntries(
  db: Db,
  shopId: string,
  customerIds: readonly string[],
): Promise<Map<string, (PastEntry & { runId: number })[]>> {
  const rows = await rowsOf(
    db,
    entryRow,
    sql`select customer_id as "customerId", workflow_id as "workflowId", id as "runId",
      entered_at as "enteredAt", status = 'inProgress' as "inProgress"
    from runs where shop_id = ${shopId} and customer_id = any(${arrayOf(customerIds, 'text')})`,
  )
  return grouped(rows, (row) => row.customerId)
}

/** The messages that customers got, or are about to get. */
export async function loadMessages(
  db: Db,
  shopId: string,
  customerIds: readonly string[],
): Promise<Map<string, KeptMessage[]>> {
  const rows = await rowsOf(
    db,
    messageRow,
    sql`select id, customer_id as "customerId", workflow_id as "workflowId", run_id as "runId", step,
      decided_at as at, marketing, channel, opened_at as "openedAt", clicked_at as "clickedAt"
    from messages where shop_id = ${shopId} and customer_id = any(${arrayOf(customerIds, 'text')})
      and channel = any(${arrayOf(CUSTOMER_CHANNELS, 'text')})
      and status in ('queued', 'held', 'handingOver', 'sent', 'unsure')`,
  )
  return grouped(rows, (row) => row.customerId)
}

/** The codes that were issued in runs, the oldest first. */
export async function loadCoupons(
  db: Db,
  shopId: string,
  runIds: readonly number[],
): Promise<Map<number, CouponFacts[]>> {
  if (runIds.length === 0) return new Map()
  const rows = await rowsOf(
    db,
    couponRow,
    sql`select run_id as "runId", step, code, expires_at as "expiresAt" from coupons
    where shop_id = ${shopId} and run_id = any(${arrayOf(runIds, 'bigint')})
    order by issued_at`,
  )
  return grouped(rows, (row) => row.runId)
}
