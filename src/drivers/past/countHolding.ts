import { sql } from 'drizzle-orm'
import { rowsOf, type Database, type Db } from '../../backend/platform/db.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import { compileCondition } from '../../core/conditions/compile.ts'
import type { CompiledCondition } from '../../core/conditions/compiled.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import { needsOfAll } from '../../core/conditions/needs.ts'
import type { EventData } from '../../core/events/cloudEvent.ts'
import { entityFacts } from '../../core/events/entityFacts.ts'
import type { CustomerFacts, Facts, PastEvent } from '../../core/events/facts.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { isPerLine, subjectOf, type EventTrigger } from '../../core/workflow/trigger.ts'
import { loadCustomers } from '../live/facts/customers.ts'
import { loadHistory } from '../live/facts/past.ts'

export const COUNTED_DAYS = 90
/** More events than this are not gone through; the newest are. */
const MOST_EVENTS = 5000

/** For how many subjects of the past conditions hold. */
export interface HeldCount {
  /** How many there were that the trigger's filter lets in. */
  of: number
  /** For each condition, how many it holds for. */
  held: number[]
  /** For each condition, how many it is the first of all to hold for: whom a split would send there. */
  first: number[]
  /** Since when; later than 90 days ago where there were too many events. */
  since: Instant
}

/**
 * Asks conditions about the events of the last 90 days that would have started a workflow, each with
 * what was known at its moment. Of customers it knows only what they are now.
 */
export async function countHolding(
  db: Database,
  shopId: string,
  trigger: EventTrigger,
  conditions: readonly Condition[],
): Promise<HeldCount> {
  const shop = await findShop(db, shopId)
  const { now } = await readClock(db, shopId)
  const from = now - COUNTED_DAYS * DAY_MS
  const events = await loadEvents(db, shopId, trigger, { from, now })
  const asked = conditions.map(compileCondition)
  const filter = trigger.filter ? compileCondition(trigger.filter) : null
  const facts = await factsOf(db, shop, trigger, events, filter ? [...asked, filter] : asked)
  const letIn = facts.filter((one) => filter?.holds(askedOf(one)) ?? true)
  return {
    of: letIn.length,
    held: asked.map((condition) => letIn.filter((one) => condition.holds(askedOf(one))).length),
    first: firsts(asked, letIn),
    since: events.length === MOST_EVENTS ? (events.at(-1)?.at ?? from) : from,
  }
}

const askedOf = (facts: Facts) => ({ facts, enteredAt: facts.now })

function firsts(conditions: readonly CompiledCondition[], facts: readonly Facts[]): number[] {
  const counts = conditions.map(() => 0)
  for (const one of facts) {
    const index = conditions.findIndex((condition) => condition.holds(askedOf(one)))
    if (index !== -1) counts[index] = (counts[index] ?? 0) + 1
  }
  return counts
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
