import { and, asc, eq, inArray, lte, or, sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { Channel } from '../../core/channels/catalogue.ts'
import type { CustomerMarks } from '../../core/workflow/decision.ts'
import type { LocalHours } from '../../core/workflow/runState.ts'
import type { Instant } from '../../core/shared/time.ts'
import { recordsOf, rowsOf, type Db } from '../platform/db.ts'
import { messages } from './tables.ts'

/*
 * Everything that writes the messages: how each gets into the queue and from one status into the next.
 * Who asks for a change has the row locked.
 */

export type MessageRow = typeof messages.$inferSelect

/** A message that a run has decided on. */
export interface NewMessage {
  runId: number
  workflowId: string
  version: number
  step: string
  customerId: string
  channel: Channel
  marketing: boolean
  marks: CustomerMarks | null
  hours: LocalHours | null
  messageId: string
}

/** Queues messages, in their order. One that a run has been through before is not queued again. */
export async function queueMessages(
  db: Db,
  shopId: string,
  decidedAt: Instant,
  given: readonly NewMessage[],
): Promise<void> {
  const records = given.map((one, position) => ({ ...one, position }))
  await db.execute(sql`
    insert into messages (shop_id, run_id, workflow_id, version, step, customer_id, channel,
      marketing, marks, hours, status, message_id, decided_at)
    select ${shopId}, m."runId", m."workflowId", m.version, m.step, m."customerId", m.channel,
      m.marketing, m.marks, m.hours, 'queued', m."messageId", ${decidedAt}
    from jsonb_to_recordset(${recordsOf(records)}) as m(position int, "runId" bigint,
      "workflowId" text, version int, step text, "customerId" text, channel text,
      marketing boolean, marks jsonb, hours jsonb, "messageId" text)
    order by m.position
    on conflict (shop_id, run_id, step) do nothing`)
}

/** The first message of a run that has not left, locked. None while one before it is under way or held. */
export async function nextQueued(
  db: Db,
  shopId: string,
  runId: number,
): Promise<MessageRow | undefined> {
  const [message] = await db
    .select()
    .from(messages)
    .where(and(ofRun(shopId, runId), inArray(messages.status, ['queued', 'held', 'handingOver'])))
    .orderBy(asc(messages.id))
    .limit(1)
    .for('update')
  return message?.status === 'queued' ? message : undefined
}

/** A message, locked; undefined where there is none. */
export async function lockMessage(
  db: Db,
  shopId: string,
  id: number,
): Promise<MessageRow | undefined> {
  const [message] = await db
    .select()
    .from(messages)
    .where(and(eq(messages.shopId, shopId), eq(messages.id, id)))
    .for('update')
  return message
}

/** What workers that died were handing over, locked. */
export function lockAbandoned(db: Db, workerIds: readonly string[]): Promise<MessageRow[]> {
  return db
    .select()
    .from(messages)
    .where(and(eq(messages.status, 'handingOver'), inArray(messages.worker, [...workerIds])))
    .orderBy(asc(messages.id))
    .for('update')
}

/** What a message may become, with what is kept of it. */
export type Change =
  | { status: 'handingOver'; worker: string; toAddress: string | null; subject: string | null }
  | { status: 'sent'; at: Instant }
  | { status: 'held'; until: Instant }
  /** It could not be handed over, or nobody knows whether it was: it goes again, or waits for a person. */
  | { status: 'queued' | 'failed' | 'unsure'; error: string }
  | { status: 'skipped' }
  /** A person has it tried again, in the words of a version. */
  | { status: 'queued'; version: number }

/** Brings a message into another status. */
export async function changeMessage(db: Db, message: MessageRow, change: Change): Promise<void> {
  await db.update(messages).set(columnsOf(message, change)).where(byId(message))
}

function columnsOf(message: MessageRow, change: Change): Partial<MessageRow> {
  if ('error' in change) return { status: change.status, worker: null, lastError: change.error }
  switch (change.status) {
    case 'handingOver':
      return { ...change, attempts: message.attempts + 1 }
    case 'sent':
      return { status: 'sent', worker: null, sentAt: change.at, lastError: null }
    case 'held':
      return { status: 'held', heldUntil: change.until }
    case 'queued':
      return { status: 'queued', version: change.version, attempts: 0 }
    case 'skipped':
      return { status: 'skipped' }
  }
}

const waiting = inArray(messages.status, ['queued', 'held'])

/** Passes over what runs that were ended still have in the queue. */
export async function skipRest(db: Db, shopId: string, runIds: readonly number[]): Promise<void> {
  await db
    .update(messages)
    .set({ status: 'skipped' })
    .where(and(eq(messages.shopId, shopId), inArray(messages.runId, [...runIds]), waiting))
}

/** Passes over what a workflow that is retired still has in the queue, also of runs that had come to their end. */
export async function skipAllOf(db: Db, shopId: string, workflowId: string): Promise<void> {
  await db
    .update(messages)
    .set({ status: 'skipped' })
    .where(and(eq(messages.shopId, shopId), eq(messages.workflowId, workflowId), waiting))
}

/** Has what is held back of a person asked about again now. */
export async function releaseHeldOf(
  db: Db,
  shopId: string,
  customerId: string,
  now: Instant,
): Promise<void> {
  await db
    .update(messages)
    .set({ heldUntil: now })
    .where(and(eq(messages.shopId, shopId), eq(messages.customerId, customerId), eq(messages.status, 'held')))
} // prettier-ignore

/** Queues held messages whose time has come, but for those of a paused workflow. Returns their runs. */
export async function releaseHeld(db: Db, shopId: string, now: Instant): Promise<number[]> {
  const rows = await rowsOf(
    db,
    z.object({ runId: z.int() }),
    sql`update messages m set status = 'queued', held_until = null
    from workflows w
    where m.shop_id = ${shopId} and m.status = 'held' and m.held_until <= ${now}
      and w.shop_id = m.shop_id and w.id = m.workflow_id and w.state <> 'paused'
      and not exists (select from bulk_changes b where b.shop_id = m.shop_id and b.workflow_id = m.workflow_id
        and b.ended_at is null and b.kind = 'end')
    returning m.run_id as "runId"`,
  )
  return rows.map(({ runId }) => runId)
}

/** What was seen of a message: that it was opened, or a link in it followed. */
export interface Seen {
  /** Its Message-ID, or the gateway's id. */
  id: string | null | undefined
  openedAt: Instant
  clickedAt: Instant | null
}

/** Keeps when messages were first opened and clicked. */
export async function noteSeen(db: Db, shopId: string, seen: readonly Seen[]): Promise<void> {
  if (seen.length === 0) return
  await db.execute(sql`
    update messages as m set opened_at = least(m.opened_at, e.opened_at),
      clicked_at = least(m.clicked_at, e.clicked_at)
    from (select id, min("openedAt") as opened_at, min("clickedAt") as clicked_at
      from jsonb_to_recordset(${recordsOf(seen)}) as s(id text, "openedAt" bigint, "clickedAt" bigint)
      group by id) as e
    where m.shop_id = ${shopId} and m.message_id = e.id`)
}

const ofRun = (shopId: string, runId: number): SQL | undefined =>
  and(eq(messages.shopId, shopId), eq(messages.runId, runId))

const byId = ({ shopId, id }: MessageRow): SQL | undefined =>
  and(eq(messages.shopId, shopId), eq(messages.id, id))

/** Takes the name and address of somebody who is erased off their messages; what still waits is not sent. */
export async function renameMessages(
  db: Db,
  shopId: string,
  customerId: string,
  renamed: (id: SQL) => SQL,
): Promise<void> {
  await db.execute(sql`
    update messages set customer_id = ${renamed(sql`customer_id`)}, to_address = null, subject = null,
      last_error = null, marks = null,
      status = case when status in ('queued', 'held') then 'skipped' else status end
    where shop_id = ${shopId} and customer_id = ${customerId}`)
}

/**
 * Notes of everything that is about to leave that nobody knows whether it has: after the database was taken back to an earlier time.
 * Returns of how many.
 */
export async function doubtQueued(
  db: Db,
  shopId: string,
  { now, error }: { now: Instant; error: string },
): Promise<number> {
  const isDue = or(
    inArray(messages.status, ['queued', 'handingOver']),
    and(eq(messages.status, 'held'), lte(messages.heldUntil, now)),
  )
  const doubted = await db
    .update(messages)
    .set({ status: 'unsure', worker: null, lastError: error })
    .where(and(eq(messages.shopId, shopId), isDue))
    .returning({ id: messages.id })
  return doubted.length
}
