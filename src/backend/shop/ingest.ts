import { sql } from 'drizzle-orm'
import {
  customerIdOf,
  readCloudEvent,
  subjectIdOf,
  type CloudEvent,
} from '../../core/events/cloudEvent.ts'
import { MINUTE_MS } from '../../core/shared/duration.ts'
import { formatInstant, parseInstant, type Instant } from '../../core/shared/time.ts'
import { arrayOf, recordsOf, type Database, type Db, type Transaction } from '../platform/db.ts'
import { noteChanges } from '../changes/index.ts'
import { AppError, type Problem } from '../platform/errors.ts'
import { addJobs, type JobSpec } from '../platform/jobs.ts'
import { readClock } from './clock.ts'
import { aboutErased } from './erased.ts'
import { projectEvents, type TimedEvent } from './project/index.ts'

/** How far a sender's clock may be ahead of the shop's. */
const AHEAD_MS = 5 * MINUTE_MS

/** What became of one event of a request. */
export type Receipt =
  /** `ignored`: the paths of what has no meaning here. */
  | { status: 'accepted'; index: number; id: string; ignored?: string[] }
  /** Known already by its (source, id); nothing changed. */
  | { status: 'duplicate'; index: number; id: string }
  /** It is about somebody who was erased, and from before that, or no new beginning; nothing of it is kept. */
  | { status: 'erased'; index: number; id: string }
  | { status: 'refused'; index: number; id: string | null; problems: Problem[] }

/**
 * Takes events in: checks each on its own, drops those that are known, stores the rest, brings the
 * shop's data up to date and queues the job that may start runs, all in one transaction.
 */
export async function ingestEvents(
  db: Database,
  shopId: string,
  inputs: readonly unknown[],
): Promise<Receipt[]> {
  const { now } = await readClock(db, shopId)
  const read = inputs.map((input) => readTimedEvent(input, now))
  const readable = read.flatMap((one) => (one.ok ? [one.timed] : []))
  const erased = await aboutErased(db, shopId, readable)
  const good = readable.filter((timed) => !erased.has(timed))
  const fresh =
    good.length === 0
      ? new Set<TimedEvent>()
      : await db.transaction((tx) => store(tx, shopId, good, now))
  return receiptsOf(read, { fresh, erased })
}

function receiptsOf(
  read: readonly PastReading[],
  { fresh, erased }: { fresh: ReadonlySet<TimedEvent>; erased: ReadonlySet<TimedEvent> },
): Receipt[] {
  return read.map((one, index): Receipt => {
    if (!one.ok) return { status: 'refused', index, id: one.id, problems: one.problems }
    const { id } = one.timed.event
    if (erased.has(one.timed)) return { status: 'erased', index, id }
    if (!fresh.has(one.timed)) return { status: 'duplicate', index, id }
    const { ignored } = one
    return { status: 'accepted', index, id, ...(ignored.length > 0 && { ignored }) }
  })
}

/** An event that was read, or why it could not be. */
export type PastReading =
  | { ok: true; timed: TimedEvent; ignored: string[] }
  | { ok: false; id: string | null; problems: Problem[] }

function readTimedEvent(input: unknown, now: Instant): PastReading {
  const result = readCloudEvent(input)
  if (!result.ok) return { ok: false, id: idOf(input), problems: result.problems }
  const { event, ignored } = result
  const at = event.time === undefined ? now : (parseInstant(event.time) ?? now)
  if (at > now + AHEAD_MS) {
    const message = `is later than the shop clock, which shows ${formatInstant(now)}`
    return { ok: false, id: event.id, problems: [{ path: 'time', message }] }
  }
  // A clock that is a little ahead is taken for the present, or the event would lie in the future.
  return { ok: true, timed: { event, at: Math.min(at, now) }, ignored }
}

function idOf(input: unknown): string | null {
  const id = (input as { id?: unknown } | null)?.id
  return typeof id === 'string' ? id : null
}

async function store(
  tx: Transaction,
  shopId: string,
  events: TimedEvent[],
  now: Instant,
): Promise<Set<TimedEvent>> {
  const inserted = await insertEvents(tx, shopId, events, { receivedAt: now, considered: false })
  const fresh = firstOfEach(events).filter(({ event }) => inserted.has(keyOf(event)))
  if (fresh.length === 0) return new Set()
  await projectEvents(tx, shopId, fresh)
  await addJobs(tx, startJobs(shopId, [...inserted.values()]))
  return new Set(fresh)
}

/** So many events are looked at in one go: with many workflows a second's work, behind which others do not wait long. */
const EVENTS_PER_JOB = 200

/** Jobs that look at events, some of them to a job. */
function startJobs(shopId: string, seqs: readonly number[]): JobSpec<'startRuns'>[] {
  const jobs: JobSpec<'startRuns'>[] = []
  for (let from = 0; from < seqs.length; from += EVENTS_PER_JOB) {
    jobs.push({
      name: 'startRuns',
      payload: { shopId, seqs: seqs.slice(from, from + EVENTS_PER_JOB) },
    })
  }
  return jobs
}

/**
 * Takes in events of the past that must start nothing: what a shop brings along from before. Throws
 * AppError with the first problem; nothing of the call is kept then.
 */
export async function importPast(
  db: Database,
  shopId: string,
  inputs: readonly unknown[],
): Promise<void> {
  const { now } = await readClock(db, shopId)
  const read = inputs.map((input) => readPast(input, now))
  await db.transaction(async (tx) => {
    for (const receipt of await takePast(tx, shopId, read)) {
      if (receipt.status !== 'refused') continue
      const { index, problems } = receipt
      throw new AppError('bad_input', `Event ${index} of the past cannot be taken in.`, problems)
    }
  })
}

/** Reads an event of the past, or says why it cannot be taken in. */
export const readPast = (input: unknown, now: Instant): PastReading => readTimedEvent(input, now)

/**
 * Takes in events of the past in the caller's transaction: they start nothing. Says what became of each. Before anything is written of what
 * they tell of (people, orders, products), `beforeTelling` has its turn.
 */
export async function takePast(
  tx: Transaction,
  shopId: string,
  read: readonly PastReading[],
  beforeTelling: () => Promise<void> = async () => undefined,
): Promise<Receipt[]> {
  const { now } = await readClock(tx, shopId)
  const told = read.flatMap((one) => (one.ok ? [one.timed] : []))
  const erased = await aboutErased(tx, shopId, told)
  const events = told.filter((timed) => !erased.has(timed))
  const inserted = await insertEvents(tx, shopId, events, { receivedAt: now, considered: true })
  const fresh = new Set(firstOfEach(events).filter(({ event }) => inserted.has(keyOf(event))))
  await beforeTelling()
  await projectEvents(tx, shopId, [...fresh])
  return receiptsOf(read, { fresh, erased })
}

const keyOf = (event: CloudEvent): string => JSON.stringify([event.source, event.id])

/** Of events with the same (source, id) in one request, the first counts. */
function firstOfEach(events: readonly TimedEvent[]): TimedEvent[] {
  const seen = new Map<string, TimedEvent>()
  for (const timed of events) if (!seen.has(keyOf(timed.event))) seen.set(keyOf(timed.event), timed)
  return [...seen.values()]
}

/** Stores the events that are new. Returns their keys with their place in the order of arrival. */
async function insertEvents(
  db: Db,
  shopId: string,
  events: readonly TimedEvent[],
  { receivedAt, considered }: { receivedAt: Instant; considered: boolean },
): Promise<Map<string, number>> {
  const records = firstOfEach(events)
    // In order of time, so that of two events of one request the earlier is looked at first.
    .toSorted((a, b) => a.at - b.at)
    .map(({ event, at }, position) => ({
      position,
      source: event.source,
      id: event.id,
      type: event.type,
      at,
      data: event.data,
      customerId: customerIdOf(event.data),
      subjectId: subjectIdOf(event.data),
    }))
  const { rows } = await db.execute(sql`
    insert into events (shop_id, source, event_id, type, time, received_at, customer_id, subject_id, data,
      considered)
    select ${shopId}, e.source, e.id, e.type, e.at, ${receivedAt}, e."customerId", e."subjectId", e.data,
      ${considered}
    from jsonb_to_recordset(${recordsOf(records)}) as e(position int, source text, id text,
      type text, at bigint, "customerId" text, "subjectId" text, data jsonb)
    order by e.position
    on conflict (shop_id, source, event_id) do nothing
    returning source, event_id, seq`)
  // What is brought along from before changes counts only of people who have been in a workflow.
  await noteChanges(db, shopId, considered ? await ofThoseInRuns(db, shopId, records) : records)
  return new Map(
    rows.map((row) => [JSON.stringify([row['source'], row['event_id']]), Number(row['seq'])]),
  )
}

async function ofThoseInRuns<Of extends { customerId: string }>(
  db: Db,
  shopId: string,
  records: readonly Of[],
): Promise<Of[]> {
  const ids = [...new Set(records.map(({ customerId }) => customerId))]
  const { rows } = await db.execute(sql`select id from unnest(${arrayOf(ids, 'text')}) as w(id)
    where exists (select 1 from runs where shop_id = ${shopId} and customer_id = w.id)`)
  const known = new Set(rows.map((row) => row['id']))
  return records.filter(({ customerId }) => known.has(customerId))
}

export const MAX_BATCH = 1000
