import { sql } from 'drizzle-orm'
import { rowsOf, type Database, type Db } from '../../backend/platform/db.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import { compileCondition } from '../../core/conditions/compile.ts'
import type { Asked, CompiledCondition } from '../../core/conditions/compiled.ts'
import { needsOfAll } from '../../core/conditions/needs.ts'
import type { EventData } from '../../core/events/cloudEvent.ts'
import { entityFacts } from '../../core/events/entityFacts.ts'
import type { CustomerFacts, Facts, PastEvent } from '../../core/events/facts.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { isPerLine, subjectOf, type EventTrigger } from '../../core/workflow/trigger.ts'
import { loadCustomers } from '../live/facts/customers.ts'
import { loadHistory } from '../live/facts/past.ts'

/** More events than this are not gone through; the newest are. */
const MOST_EVENTS = 20_000

/** Something that would have started a workflow, as conditions are asked about it. */
export interface PastSubject {
  /** With what was known when it happened. */
  atOnce: Asked
  /** With what was known later on: after a while, or by now if that is earlier. */
  later: Asked
}

/** What would have started a workflow in the past. */
export interface PastSubjects {
  subjects: PastSubject[]
  /** Since when; later than was asked for where there were too many events. */
  since: Instant
}

interface PastQuery {
  days: number
  conditions: readonly CompiledCondition[]
  /** Milliseconds from the event to the moment that `later` is of. */
  afterMs?: number
}

/**
 * The subjects of the last days that the trigger and its filter would have let in, with all that
 * `conditions` ask about. Of customers it knows only what they are now, and of orders and the like
 * what the event told.
 */
export async function pastSubjects(
  db: Database,
  shopId: string,
  trigger: EventTrigger,
  { days, conditions, afterMs = 0 }: PastQuery,
): Promise<PastSubjects> {
  const shop = await findShop(db, shopId)
  const { now } = await readClock(db, shopId)
  const from = now - days * DAY_MS
  const events = await loadEvents(db, shopId, trigger, { from, now })
  const filter = trigger.filter ? compileCondition(trigger.filter) : null
  const asked = [...conditions, ...(filter ? [filter] : [])]
  const subjects = await subjectsOf(db, { shop, now, afterMs }, trigger, events, asked)
  return {
    subjects: subjects.filter(({ atOnce }) => filter?.holds(atOnce) ?? true),
    since: events.length === MOST_EVENTS ? (events.at(-1)?.at ?? from) : from,
  }
}

interface EventRow extends Record<string, unknown> {
  at: Instant
  customerId: string
  subjectId: string | null
  data: EventData
}

function loadEvents(
  db: Db,
  shopId: string,
  { event }: EventTrigger,
  { from, now }: { from: Instant; now: Instant },
): Promise<EventRow[]> {
  return rowsOf<EventRow>(
    db,
    sql`select time as at, customer_id as "customerId", subject_id as "subjectId", data
    from events where shop_id = ${shopId} and type = ${event} and time > ${from} and time <= ${now}
    order by time desc limit ${MOST_EVENTS}`,
  )
}

async function subjectsOf(
  db: Database,
  { shop, now, afterMs }: { shop: Shop; now: Instant; afterMs: number },
  trigger: EventTrigger,
  events: readonly EventRow[],
  conditions: readonly CompiledCondition[],
): Promise<PastSubject[]> {
  const ids = [...new Set(events.map(({ customerId }) => customerId))]
  const { events: types } = needsOfAll(conditions.map(({ needs }) => needs))
  const until = Math.min(now, (events[0]?.at ?? 0) + afterMs)
  const customers = await loadCustomers(db, shop.id, ids)
  const history = await loadHistory(db, shop.id, ids, types, until, false)
  return events.flatMap((event) => {
    const customer = customers.get(event.customerId)
    if (!customer) return []
    const all = history.get(event.customerId) ?? []
    const factsBy = (moment: Instant): Facts[] => {
      const past = all.filter(({ at }) => at <= moment)
      return eachSubject(trigger, factsAt(shop, trigger, event, { customer, past, now: moment }))
    }
    const enteredAt = event.at
    const later = factsBy(Math.min(now, enteredAt + afterMs))
    return factsBy(enteredAt).flatMap((facts, index) => {
      const then = later[index]
      return then ? [{ atOnce: { facts, enteredAt }, later: { facts: then, enteredAt } }] : []
    })
  })
}

function factsAt(
  shop: Shop,
  trigger: EventTrigger,
  { at, subjectId, data }: EventRow,
  known: { customer: CustomerFacts; past: readonly PastEvent[]; now: Instant },
): Facts {
  return {
    ...entityFacts(trigger.event, data, at),
    now: known.now,
    shop,
    self: { workflowId: '', runId: null },
    subject: { kind: subjectOf(trigger), id: subjectId },
    customer: known.customer,
    history: known.past,
    entries: [],
    messages: [],
    coupons: [],
  }
}

/** For workflows per line, each line by itself. */
function eachSubject(trigger: EventTrigger, facts: Facts): Facts[] {
  if (!isPerLine(trigger)) return [facts]
  return (facts.order?.lines ?? []).map((line) => ({ ...facts, line }))
}
