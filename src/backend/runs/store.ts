import { and, asc, eq, gt, inArray, isNotNull, isNull, lte, or, sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { EventType } from '../../core/events/eventTypes.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { RunState } from '../../core/workflow/runState.ts'
import { noteChanges } from '../changes/index.ts'
import { recordsOf, rowsOf, type Db } from '../platform/db.ts'
import { dueRuns, runs } from './tables.ts'

/*
 * Everything that writes the runs, and how they are read to be moved. The rule of it: `parked_until` is
 * when a run's wait is over; `due_at` is when a worker looks at it. They are the same but for runs that
 * are woken early, and for those that come due in a pause: they have no `due_at` until it is over.
 */

/** A run as it is kept, with what the interpreter needs of it. */
export interface KeptRun extends RunState {
  id: number
  workflowId: string
  version: number
  customerId: string
  subjectId: string | null
  line: number | null
  /** The event that started it; null for a date or a person. */
  eventSeq: number | null
  /** True once it was moved to another version, in which steps may come again. */
  moved: boolean
}

/** How a run ended. */
export type Outcome = NonNullable<(typeof runs.$inferSelect)['outcome']>

/** `dueAt` as the interpreter means it is when the wait is over. */
const KEPT = {
  id: runs.id,
  workflowId: runs.workflowId,
  version: runs.version,
  customerId: runs.customerId,
  subjectId: runs.subjectId,
  line: runs.line,
  eventSeq: runs.eventSeq,
  enteredAt: runs.enteredAt,
  status: runs.status,
  step: runs.step,
  since: runs.since,
  dueAt: runs.parkedUntil,
  awaits: runs.awaits,
  skipNext: runs.skipNext,
  skipBefore: runs.skipBefore,
  hours: runs.hours,
  owed: runs.owed,
  moved: runs.moved,
}

const isInProgress = eq(runs.status, 'inProgress')
const ofWorkflow = (shopId: string, workflowId: string): SQL | undefined =>
  and(eq(runs.shopId, shopId), eq(runs.workflowId, workflowId))

/** Takes runs that are due, the earliest first, which no other worker has taken; they are locked. */
export function claimDue(db: Db, shopId: string, now: Instant, most: number): Promise<KeptRun[]> {
  return (
    db
      .select(KEPT)
      .from(dueRuns)
      .innerJoin(runs, and(eq(runs.shopId, dueRuns.shopId), eq(runs.id, dueRuns.runId)))
      // The run itself is asked as well: once it is locked, that is what is true.
      .where(and(eq(dueRuns.shopId, shopId), lte(dueRuns.dueAt, now), lte(runs.dueAt, now)))
      .orderBy(asc(dueRuns.dueAt), asc(dueRuns.runId))
      .limit(most)
      .for('update', { of: runs, skipLocked: true })
  )
}

/** A run, to be looked at only; undefined where there is none. */
export async function findRun(db: Db, shopId: string, id: number): Promise<KeptRun | undefined> {
  const [run] = await db.select(KEPT).from(runs).where(byId(shopId, id))
  return run
}

/** A run, locked; undefined where there is none. */
export async function lockRun(db: Db, shopId: string, id: number): Promise<KeptRun | undefined> {
  const [run] = await db.select(KEPT).from(runs).where(byId(shopId, id)).for('update')
  return run
}

/** Runs in progress of a workflow, by version and id, locked. */
export function lockRuns(
  db: Db,
  shopId: string,
  workflowId: string,
  where: SQL,
  most: number,
): Promise<KeptRun[]> {
  return db
    .select(KEPT)
    .from(runs)
    .where(and(ofWorkflow(shopId, workflowId), isInProgress, where))
    .orderBy(asc(runs.version), asc(runs.id))
    .limit(most)
    .for('update')
}

/** True of runs behind one in the order of version and id. */
export const isBehindCursor = (version: number, id: number): SQL =>
  sql`(${runs.version}, ${runs.id}) > (${version}, ${id})`

/**
 * Runs of a paused workflow that would go on at once if it were resumed: those that are due, that
 * waited for news and had some, or that were moved to a date that is past. A page, those with an id above `after`.
 */
export function heldAndDue(
  db: Db,
  shopId: string,
  workflowId: string,
  { now, after, most }: { now: Instant; after: number; most: number },
): Promise<KeptRun[]> {
  return db
    .select(KEPT)
    .from(runs)
    .where(
      and(
        ofWorkflow(shopId, workflowId),
        isInProgress,
        gt(runs.id, after),
        or(
          lte(runs.dueAt, now),
          and(
            isNull(runs.dueAt),
            or(
              lte(runs.parkedUntil, now),
              isNotNull(runs.awaits),
              and(isNull(runs.parkedUntil), runs.moved),
            ),
          ),
        ),
      ),
    )
    .orderBy(asc(runs.id))
    .limit(most)
}

/** A run that is about to be kept for the first time. */
export interface NewRun extends Omit<RunState, 'skipBefore'> {
  workflowId: string
  version: number
  customerId: string
  subjectId: string | null
  line: number | null
  idempotencyKey: string
  eventSeq: number | null
  outcome: Outcome | null
}

/** Keeps new runs. Returns their ids, in the same order. */
export async function insertRuns(
  db: Db,
  shopId: string,
  started: readonly NewRun[],
): Promise<number[]> {
  if (started.length === 0) return []
  // Drizzle's insert takes a parameter for each value: a batch of 500 would come near what PostgreSQL
  // takes.
  const numbers = await rowsOf(
    db,
    z.object({ id: z.int() }),
    sql`select nextval(pg_get_serial_sequence('runs', 'id')) as id
    from generate_series(1, ${started.length})`,
  )
  const ids = numbers.map(({ id }) => id)
  const records = started.map((run, index) => ({ ...run, id: ids[index] }))
  await db.execute(sql`
    insert into runs (shop_id, id, workflow_id, version, customer_id, subject_id, line, idempotency_key,
      event_seq, entered_at, status, step, since, due_at, parked_until, awaits, skip_next, hours,
      owed, outcome)
    overriding system value
    select ${shopId}, r.id, r."workflowId", r.version, r."customerId", r."subjectId", r.line,
      r."idempotencyKey", r."eventSeq", r."enteredAt", r.status, r.step, r.since, r."dueAt", r."dueAt",
      r.awaits, r."skipNext", r.hours, r.owed, r.outcome
    from jsonb_to_recordset(${recordsOf(records)}) as r(id bigint, "workflowId" text, version int,
      "customerId" text, "subjectId" text, line int, "idempotencyKey" text, "eventSeq" bigint,
      "enteredAt" bigint, status text, step text, since bigint, "dueAt" bigint, awaits text,
      "skipNext" boolean, hours jsonb, owed jsonb, outcome text)`)
  return ids
}

/** Where a run has got to. */
export interface Standing {
  id: number
  next: Omit<RunState, 'enteredAt' | 'skipBefore'>
  outcome: Outcome | null
}

/** Keeps where runs have got to: at a wait, at their end, or where they are stuck. */
export async function keepStanding(
  db: Db,
  shopId: string,
  moved: readonly Standing[],
): Promise<void> {
  const records = moved.map(({ id, next, outcome }) => ({ ...next, id, outcome }))
  await db.execute(sql`
    update runs set status = r.status, step = r.step, since = r.since, due_at = r."dueAt",
      parked_until = r."dueAt", awaits = r.awaits, skip_next = r."skipNext",
      hours = r.hours, owed = r.owed, outcome = r.outcome
    from jsonb_to_recordset(${recordsOf(records)}) as r(id bigint, status text, step text,
      since bigint, "dueAt" bigint, awaits text, "skipNext" boolean,
      hours jsonb, owed jsonb, outcome text)
    where runs.shop_id = ${shopId} and runs.id = r.id`)
}

/** What an ended run has no more of. */
const ENDED = {
  status: 'ended',
  step: null,
  dueAt: null,
  parkedUntil: null,
  awaits: null,
} as const

/** Ends a run by an exclusion or by hand; one that had ended keeps its outcome. */
export async function endRun(
  db: Db,
  shopId: string,
  id: number,
  how: 'left' | 'takenOut' = 'left',
): Promise<void> {
  const outcome = sql`coalesce(${runs.outcome}, ${how})`
  await db
    .update(runs)
    .set({ ...ENDED, outcome })
    .where(byId(shopId, id))
}

/** What a ledger entry says of a run. */
export type RunRef = Pick<KeptRun, 'id' | 'workflowId' | 'version' | 'customerId' | 'subjectId'>

/** Ends runs of a workflow that is retired. */
export async function endRuns(db: Db, shopId: string, ids: readonly number[]): Promise<void> {
  await db
    .update(runs)
    .set({ ...ENDED, outcome: 'retired' })
    .where(and(eq(runs.shopId, shopId), inArray(runs.id, [...ids])))
}

/** What may wake a run. */
export interface News {
  type: EventType
  customerId: string
  subjectId: string | null
}

/**
 * Makes runs due that wait for events like these, or for a date of the very thing they tell of. The
 * interpreter then sees whether it is what they wait for; those it is not for go on waiting.
 */
export async function wakeRuns(
  db: Db,
  shopId: string,
  now: Instant,
  news: readonly News[],
): Promise<void> {
  const records = news.map(({ type, customerId, subjectId }) => ({ type, customerId, subjectId }))
  await db.execute(sql`
    update runs set due_at = ${now}
    from jsonb_to_recordset(${recordsOf(records)})
      as n(type text, "customerId" text, "subjectId" text)
    where runs.shop_id = ${shopId} and runs.customer_id = n."customerId"
      and runs.awaits is not null and runs.due_at > ${now}
      and (runs.awaits = n.type or (runs.awaits = 'subject' and runs.subject_id = n."subjectId"))`)
}

/** Has all runs of a person that wait looked at now; those that nothing has changed for go on waiting. */
export async function lookAgain(
  db: Db,
  shopId: string,
  customerId: string,
  now: Instant,
): Promise<void> {
  await db
    .update(runs)
    .set({ dueAt: now })
    .where(and(eq(runs.shopId, shopId), eq(runs.customerId, customerId), isInProgress, gt(runs.dueAt, now)))
} // prettier-ignore

/** Holds runs that came due in a pause: they are out of the index of due ones until it is over. */
export async function holdRuns(db: Db, shopId: string, ids: readonly number[]): Promise<void> {
  if (ids.length === 0) return
  await db
    .update(runs)
    .set({ dueAt: null })
    .where(and(eq(runs.shopId, shopId), inArray(runs.id, [...ids])))
}

/**
 * Makes runs due again that a pause held, and has those looked at that waited for
 * news. Messages whose moment was before `skipBefore` are then passed over; null sends them all.
 */
export async function releaseRuns(
  db: Db,
  shopId: string,
  ids: readonly number[],
  skipBefore: Instant | null,
): Promise<void> {
  const dueAt = sql`case when ${runs.awaits} is null then coalesce(${runs.parkedUntil}, 0) else 0 end`
  await db
    .update(runs)
    .set({ skipBefore, dueAt })
    .where(and(eq(runs.shopId, shopId), inArray(runs.id, [...ids])))
}

/** Puts runs on another version of their workflow; each version is counted by itself. */
export async function setVersion(
  db: Db,
  shopId: string,
  ids: readonly number[],
  version: number,
): Promise<void> {
  const moved = await db
    .update(runs)
    .set({ version, moved: true })
    .where(and(eq(runs.shopId, shopId), inArray(runs.id, [...ids])))
    .returning({ customerId: runs.customerId, at: runs.enteredAt })
  await noteChanges(db, shopId, moved)
}

/** Keeps when the waits of runs of a paused workflow are over; null for a date that is past. Who would go on by now is held. */
export async function setParked(
  db: Db,
  shopId: string,
  now: Instant,
  waits: readonly { id: number; until: Instant | null }[],
): Promise<void> {
  await db.execute(sql`
    update runs set parked_until = w.until, due_at = case when w.until > ${now} then w.until end
    from jsonb_to_recordset(${recordsOf(waits)}) as w(id bigint, until bigint)
    where runs.shop_id = ${shopId} and runs.id = w.id`)
}

/** Has a run looked at again that could not go on. Returns false for one that is not stuck. */
export async function unstick(db: Db, shopId: string, id: number, now: Instant): Promise<boolean> {
  const rows = await db
    .update(runs)
    .set({ dueAt: now })
    .where(and(byId(shopId, id), isInProgress, isNull(runs.dueAt), isNull(runs.parkedUntil)))
    .returning({ id: runs.id })
  return rows.length > 0
}

const byId = (shopId: string, id: number): SQL | undefined =>
  and(eq(runs.shopId, shopId), eq(runs.id, id))

/** Ends what somebody who is erased is still in, and takes their name off all their runs. */
export async function renameRuns(
  db: Db,
  shopId: string,
  customerId: string,
  renamed: (id: SQL) => SQL,
): Promise<void> {
  await db.execute(sql`
    update runs set customer_id = ${renamed(sql`customer_id`)}, subject_id = ${renamed(sql`subject_id`)},
      idempotency_key = ${renamed(sql`idempotency_key`)},
      status = 'ended', outcome = coalesce(outcome, 'takenOut'), step = null, due_at = null, parked_until = null,
      awaits = null
    where shop_id = ${shopId} and customer_id = ${customerId}`)
}
