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

/** What would have started a workflow in the past, each with what was known at its moment. */
export interface PastSubjects {
  facts: Facts[]
  /** Since when; later than was asked for where there were too many events. */
  since: Instant
}

/**
 * The subjects of the last days that the trigger and its filter would have let in, with all that
 * `conditions` ask about. Of customers it knows only what they are now.
 */
export async function pastSubjects(
  db: Database,
  shopId: string,
  trigger: EventTrigger,
  { days, conditions }: { days: number; conditions: readonly CompiledCondition[] },
): Promise<PastSubjects> {
  const shop = await findShop(db, shopId)
  const { now } = await readClock(db, shopId)
  const from = now - days * DAY_MS
  const events = await loadEvents(db, shopId, trigger, { from, now })
  const filter = trigger.filter ? compileCondition(trigger.filter) : null
  const facts = await factsOf(db, shop, trigger, events, [
    ...conditions,
    ...(filter ? [filter] : []),
  ])
  return {
    facts: facts.filter((one) => filter?.holds(askedOf(one)) ?? true),
    since: events.length === MOST_EVENTS ? (events.at(-1)?.at ?? from) : from,
  }
}

/** How a condition is asked about a subject of the past: at its own moment. */
export const askedOf = (facts: Facts): Asked => ({ facts, enteredAt: facts.now })

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

async function factsOf(
  db: Db,
  shop: Shop,
  trigger: EventTrigger,
  events: readonly EventRow[],
  conditions: readonly CompiledCondition[],
): Promise<Facts[]> {
  const ids = [...new Set(events.map(({ customerId }) => customerId))]
  const { events: types } = needsOfAll(conditions.map(({ needs }) => needs))
  const until = events[0]?.at ?? 0
  const customers = await loadCustomers(db, shop.id, ids)
  const history = await loadHistory(db, shop.id, ids, types, until, false)
  return events.flatMap((event) => {
    const customer = customers.get(event.customerId)
    if (!customer) return []
    const past = (history.get(event.customerId) ?? []).filter(({ at }) => at <= event.at)
    return eachSubject(trigger, factsAt(shop, trigger, event, { customer, past }))
  })
}

function factsAt(
  shop: Shop,
  trigger: EventTrigger,
  { at, subjectId, data }: EventRow,
  { customer, past }: { customer: CustomerFacts; past: readonly PastEvent[] },
): Facts {
  return {
    ...entityFacts(trigger.event, data, at),
    now: at,
    shop,
    self: { workflowId: '', runId: null },
    subject: { kind: subjectOf(trigger), id: subjectId },
    customer,
    history: past,
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
