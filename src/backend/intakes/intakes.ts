import { and, desc, eq, isNull, sql } from 'drizzle-orm'
import { z } from 'zod'
import { HOUR_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { recordsOf, rowsOf, type Db } from '../platform/db.ts'
import { intakes } from './tables.ts'

/** Somebody who is to be let in, and what brings them. */
export interface Waiting {
  customerId: string
  subjectId: string | null
  line: number | null
  idempotencyKey: string
  eventSeq: number | null
  /** When that was. */
  occasionAt: Instant
  date: Instant | null
}

/** Turns come together in slots of this length: nobody can tell them apart, and the work is done at once. */
const SLOT_MS = 5 * MINUTE_MS

/** When it is the turn of the one at a place, of so many an hour. */
export function turnAt(startedAt: Instant, place: number, perHour: number): Instant {
  const after = (place * HOUR_MS) / perHour
  return startedAt + Math.floor(after / SLOT_MS) * SLOT_MS
}

/** Puts people in line, so many an hour, the first at once. Returns the number of the intake. */
export async function beginIntake(
  db: Db,
  shopId: string,
  given: { workflowId: string; person: string; now: Instant; perHour: number },
  people: readonly Waiting[],
): Promise<number> {
  const { workflowId, person, now, perHour } = given
  const [row] = await db
    .insert(intakes)
    .values({
      shopId,
      workflowId,
      person,
      startedAt: now,
      perHour,
      people: people.length,
      endedAt: people.length === 0 ? now : null,
    }) // prettier-ignore
    .returning({ id: intakes.id })
  const id = row?.id ?? 0
  const records = people.map((one, place) => ({
    ...one,
    place,
    dueAt: turnAt(now, place, perHour),
  }))
  await db.execute(sql`
    insert into intake_people (shop_id, intake_id, place, workflow_id, customer_id, subject_id, line,
      idempotency_key, event_seq, occasion_at, date, due_at)
    select ${shopId}, ${id}, p.place, ${workflowId}, p."customerId", p."subjectId", p.line, p."idempotencyKey",
      p."eventSeq", p."occasionAt", p.date, p."dueAt"
    from jsonb_to_recordset(${recordsOf(records)}) as p(place int, "customerId" text, "subjectId" text, line int,
      "idempotencyKey" text, "eventSeq" bigint, "occasionAt" bigint, date bigint, "dueAt" bigint)`)
  return id
}

const duePerson = z.object({
  intakeId: z.number(),
  person: z.string(),
  customerId: z.string(),
  subjectId: z.string().nullable(),
  line: z.number().nullable(),
  idempotencyKey: z.string(),
  eventSeq: z.number().nullable(),
  occasionAt: z.number(),
  date: z.number().nullable(),
})
export type DuePerson = z.infer<typeof duePerson>

/** The live workflow for which somebody's turn it is; while one is paused, its line stands. Null for nobody. */
export async function nextIntake(db: Db, shopId: string, now: Instant): Promise<string | null> {
  const [row] = await rowsOf(
    db,
    z.object({ workflowId: z.string() }),
    sql`select p.workflow_id as "workflowId" from intake_people p
    join workflows w on w.shop_id = p.shop_id and w.id = p.workflow_id and w.state = 'live'
    where p.shop_id = ${shopId} and p.due_at <= ${now} order by p.due_at limit 1`,
  )
  return row?.workflowId ?? null
}

/**
 * Takes those of a workflow out of the line whose turn it is, at most so many; those that another worker has taken are
 * left to it.
 */
export function takeDuePeople(
  db: Db,
  shopId: string,
  workflowId: string,
  { now, limit }: { now: Instant; limit: number },
): Promise<DuePerson[]> {
  return rowsOf(
    db,
    duePerson,
    sql`with due as (
      select p.intake_id, p.place from intake_people p
      where p.shop_id = ${shopId} and p.workflow_id = ${workflowId} and p.due_at <= ${now}
      order by p.due_at, p.intake_id, p.place limit ${limit} for update skip locked
    ), taken as (
      delete from intake_people p using due
      where p.shop_id = ${shopId} and p.intake_id = due.intake_id and p.place = due.place
      returning p.*
    )
    select t.intake_id as "intakeId", i.person, t.customer_id as "customerId", t.subject_id as "subjectId", t.line,
      t.idempotency_key as "idempotencyKey", t.event_seq as "eventSeq", t.occasion_at as "occasionAt", t.date
    from taken t join intakes i on i.shop_id = ${shopId} and i.id = t.intake_id
    order by t.due_at, t.intake_id, t.place`,
  )
}

/** Counts what came of those of an intake that were taken; it has ended once nobody is left in line. */
export async function noteLetIn(
  db: Db,
  shopId: string,
  id: number,
  { now, entered, turnedAway }: { now: Instant; entered: number; turnedAway: number },
): Promise<void> {
  await db.execute(sql`
    update intakes set entered = entered + ${entered}, turned_away = turned_away + ${turnedAway},
      ended_at = case when exists (select 1 from intake_people p
        where p.shop_id = ${shopId} and p.intake_id = ${id}) then null else ${now}::bigint end
    where shop_id = ${shopId} and id = ${id}`)
}

/** Sends those of a workflow away who are still in line; who has entered goes on. Returns how many there were. */
export async function stopIntakes(
  db: Db,
  shopId: string,
  workflowId: string,
  now: Instant,
): Promise<number> {
  const gone = await db.execute(sql`
    delete from intake_people where shop_id = ${shopId} and workflow_id = ${workflowId}`)
  await db
    .update(intakes)
    .set({ endedAt: now, isStopped: true })
    .where(and(ofWorkflow(shopId, workflowId), isNull(intakes.endedAt)))
  return gone.rowCount ?? 0
}

const ofWorkflow = (shopId: string, workflowId: string) =>
  and(eq(intakes.shopId, shopId), eq(intakes.workflowId, workflowId))

/** The intakes of a workflow, the newest first. */
export function intakesOf(
  db: Db,
  shopId: string,
  workflowId: string,
): Promise<(typeof intakes.$inferSelect)[]> {
  return db
    .select()
    .from(intakes)
    .where(ofWorkflow(shopId, workflowId))
    .orderBy(desc(intakes.id))
    .limit(20)
}
