import { setImmediate as breathe } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import { arrayOf, rowsOf, type Database, type Db } from '../../backend/platform/db.ts'
import { findShop, readClock } from '../../backend/shop/index.ts'
import { conditionFindings } from '../../core/check/conditionFindings.ts'
import type { EventData } from '../../core/events/cloudEvent.ts'
import { entityFacts } from '../../core/events/entityFacts.ts'
import { EVENT_TYPES, subjectKindOf, type EventType } from '../../core/events/eventTypes.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { compileProgram, type Program } from '../../core/workflow/compile.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { livedThrough, type LifeEvent, type Lived } from '../../core/workflow/livedThrough.ts'
import { loadCustomers } from '../live/facts/customers.ts'
import { grouped } from '../live/facts/grouped.ts'

const REPLAYED_DAYS = 90
/** More people than this are not gone through; those whose event is newest are. */
const MOST_PEOPLE = 5_000
/** So many lives at a time, so that others get their answers in between. */
const AT_A_TIME = 100

/** What a workflow would have done in the past. */
export interface Replay {
  lives: Lived[]
  since: Instant
}

/**
 * Runs a workflow over the last 90 days of everyone whom its trigger concerns: the same interpreter,
 * every event at its own time, nothing sent. What is known of customers themselves (consent,
 * address, tags) is what is known today, and no other workflow is there. Null for triggers that are
 * no events, and while a condition is unfinished.
 */
export async function replay(
  db: Database,
  shopId: string,
  definition: Definition,
): Promise<Replay | null> {
  const { trigger } = definition
  if (trigger.kind !== 'event' || conditionFindings(definition).length > 0) return null
  const program = compileProgram(definition)
  const shop = await findShop(db, shopId)
  const { now } = await readClock(db, shopId)
  const since = now - REPLAYED_DAYS * DAY_MS
  const ids = await peopleOf(db, shopId, trigger.event, since)
  const customers = await loadCustomers(db, shopId, ids)
  const events = await loadEvents(db, shopId, ids, { types: typesFor(program, trigger.event), now })
  const lives: Lived[] = []
  for (const id of ids) {
    const customer = customers.get(id)
    if (!customer) continue
    const all = events.get(id) ?? []
    const before = all.filter(({ at }) => at <= since)
    const lived = all.filter(({ at }) => at > since)
    lives.push(livedThrough(program, { shop, customer, before, events: lived, until: now }))
    if (lives.length % AT_A_TIME === 0) await breathe()
  }
  return { lives, since }
}

/** Those for whom the trigger's event came since a moment. */
async function peopleOf(
  db: Db,
  shopId: string,
  event: EventType,
  since: Instant,
): Promise<string[]> {
  const rows = await rowsOf<{ id: string }>(
    db,
    sql`select customer_id as id from events
    where shop_id = ${shopId} and type = ${event} and time > ${since}
    group by customer_id order by max(time) desc limit ${MOST_PEOPLE}`,
  )
  return rows.map(({ id }) => id)
}

/** The events a workflow may see: what starts it, what it asks about, what changes its subject. */
function typesFor({ subject, needs }: Program, trigger: EventType): EventType[] {
  const own = (Object.keys(EVENT_TYPES) as EventType[]).filter(
    (type) => subject !== 'customer' && subjectKindOf(type) === subject,
  )
  return [...new Set([trigger, ...needs.events.keys(), ...own])]
}

interface EventRow extends Record<string, unknown> {
  customerId: string
  type: EventType
  at: Instant
  subjectId: string | null
  data: EventData
  from: string | null
  to: string | null
}

async function loadEvents(
  db: Db,
  shopId: string,
  ids: readonly string[],
  { types, now }: { types: readonly EventType[]; now: Instant },
): Promise<Map<string, LifeEvent[]>> {
  const rows = await rowsOf<EventRow>(
    db,
    sql`select customer_id as "customerId", type, time as at, subject_id as "subjectId", data,
      data->>'from' as "from", coalesce(data->>'to', data->'subscription'->>'status') as "to"
    from events where shop_id = ${shopId} and customer_id = any(${arrayOf(ids, 'text')})
      and type = any(${arrayOf(types, 'text')}) and time <= ${now}
    order by time, seq`,
  )
  const events = rows.map(({ customerId, type, at, subjectId, data, from, to }) => ({
    customerId,
    event: {
      type,
      at,
      arrivesAt: at,
      subjectId,
      entity: entityFacts(type, data, at),
      change: to === null ? null : { from, to },
    },
  }))
  const byCustomer = grouped(events, (one) => one.customerId)
  return new Map([...byCustomer].map(([id, list]) => [id, list.map(({ event }) => event)]))
}
