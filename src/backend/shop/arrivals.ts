import { and, desc, eq, lt, sql } from 'drizzle-orm'
import { z } from 'zod'
import type { Arrival } from '../../contract/arrivals.ts'
import type { EventData } from '../../core/events/cloudEvent.ts'
import { EVENT_TYPES, type EventType } from '../../core/events/eventTypes.ts'
import { cleanTexts } from '../../core/shared/plainText.ts'
import { formatInstant, type Instant } from '../../core/shared/time.ts'
import { toldWords } from '../../core/words/toldWords.ts'
import { document, rowsOf, type Db } from '../platform/db.ts'
import { readClock } from './clock.ts'
import type { Receipt } from './ingest.ts'
import type { Shop } from './shops.ts'
import { refusedEvents } from './tables.ts'

const PAGE = 50
/** So many refused events are kept, each up to so many characters. */
const MOST_KEPT = 2000
const MOST_LENGTH = 20_000

/** Keeps what was refused of a request, as it came, for whoever has to find out why. */
export async function keepRefused(
  db: Db,
  shopId: string,
  sender: string,
  { inputs, receipts }: { inputs: readonly unknown[]; receipts: readonly Receipt[] },
): Promise<void> {
  const refused = receipts.flatMap((one) => (one.status === 'refused' ? [one] : [])).slice(0, 100)
  if (refused.length === 0) return
  const { now } = await readClock(db, shopId)
  await db.insert(refusedEvents).values(
    refused.map(({ index, problems }) => ({
      shopId,
      receivedAt: now,
      sender,
      event: kept(inputs[index]),
      problems: problems.map(({ path, message }) => ({ path, message })),
    })),
  )
  const tooMany = sql`(select id from refused_events where shop_id = ${shopId} order by id desc offset ${MOST_KEPT} limit 1)`
  await db
    .delete(refusedEvents)
    .where(and(eq(refusedEvents.shopId, shopId), sql`${refusedEvents.id} <= ${tooMany}`))
}

/** What PostgreSQL keeps as JSON: without characters that no text holds, and not without end. */
function kept(input: unknown): unknown {
  const plain = cleanTexts(input ?? null)
  const text = JSON.stringify(plain)
  return text.length > MOST_LENGTH ? `${text.slice(0, MOST_LENGTH).toWellFormed()} …` : plain
}

const takenRow = z.object({
  key: z.int(),
  receivedAt: z.int(),
  from: z.string(),
  type: z.enum(EVENT_TYPES),
  eventId: z.string(),
  time: z.int(),
  data: document<EventData>(),
  customerId: z.string(),
  name: z.string(),
  started: z.int(),
})

/** Events that came and were taken in, the newest first, with what each started. */
export async function takenEvents(
  db: Db,
  shop: Shop,
  { type, before }: { type?: EventType | undefined; before?: number | undefined },
): Promise<{ rows: Arrival[]; more: boolean }> {
  const rows = await rowsOf(
    db,
    takenRow,
    sql`select e.seq as key, e.received_at as "receivedAt", e.source as "from", e.type, e.event_id as "eventId", e.time, e.data,
      e.customer_id as "customerId", coalesce(nullif(concat_ws(' ', c.first_name, c.last_name), ''), c.email, e.customer_id) as name,
      (select count(*)::int from runs r where r.shop_id = e.shop_id and r.customer_id = e.customer_id and r.event_seq = e.seq) as started
    from events e left join customers c on c.shop_id = e.shop_id and c.id = e.customer_id
    where e.shop_id = ${shop.id} ${type ? sql`and e.type = ${type}` : sql``} ${before === undefined ? sql`` : sql`and e.seq < ${before}`}
    order by e.seq desc limit ${PAGE + 1}`,
  )
  return {
    more: rows.length > PAGE,
    rows: rows.slice(0, PAGE).map(({ eventId, time, data, customerId, name, ...row }) => ({
      ...row,
      words: toldWords(row.type, data, shop),
      customer: { id: customerId, name },
      problems: [],
      event: { specversion: '1.0', id: eventId, source: row.from, type: row.type, time: formatInstant(time), data },
    })),
  }
} // prettier-ignore

/** Events that came and were refused, the newest first. */
export async function refusedOf(
  db: Db,
  shopId: string,
  before: number | undefined,
): Promise<{ rows: Arrival[]; more: boolean }> {
  const own = eq(refusedEvents.shopId, shopId)
  const rows = await db
    .select()
    .from(refusedEvents)
    .where(before === undefined ? own : and(own, lt(refusedEvents.id, before)))
    .orderBy(desc(refusedEvents.id))
    .limit(PAGE + 1)
  return {
    more: rows.length > PAGE,
    rows: rows.slice(0, PAGE).map(({ id, receivedAt, sender, event, problems }) => ({
      key: id,
      receivedAt,
      from: sender,
      type: typeOf(event),
      words: problems.map(({ path, message }) => `${path} ${message}`).join('; '),
      customer: null,
      started: 0,
      problems,
      event,
    })),
  }
}

function typeOf(event: unknown): string | null {
  const type = (event as { type?: unknown } | null)?.type
  return typeof type === 'string' ? type : null
}

/** Removes what was refused before a moment, so many at most. Returns how many. */
export async function forgetRefused(
  db: Db,
  shopId: string,
  before: Instant,
  most: number,
): Promise<number> {
  const gone = await db.execute(sql`delete from refused_events r using (
      select id from refused_events where shop_id = ${shopId} and received_at < ${before} limit ${most}) old
    where r.shop_id = ${shopId} and r.id = old.id`)
  return gone.rowCount ?? 0
}
