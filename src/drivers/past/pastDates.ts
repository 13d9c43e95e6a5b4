import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import { arrayOf, document, rowsOf, type Db } from '../../backend/platform/db.ts'
import type { Shop } from '../../backend/shop/index.ts'
import type { EventData } from '../../core/events/cloudEvent.ts'
import { entityFacts, NO_ENTITY } from '../../core/events/entityFacts.ts'
import { EVENT_TYPES, subjectKindOf } from '../../core/events/eventTypes.ts'
import { zoneOf, type EntityFacts } from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'
import {
  datesOf,
  newDates,
  startsAtOnce,
  triggerMoment,
  type OwnDate,
} from '../../core/workflow/dateTrigger.ts'
import { subjectOf, type DateTrigger } from '../../core/workflow/trigger.ts'
import { loadCustomers } from '../live/facts/customers.ts'
import { grouped } from '../../core/shared/grouped.ts'
import type { HeldDate } from './heldDate.ts'
import { pastReorders } from './pastReorders.ts'
import { isDrawn } from './lot.ts'
import type { PastStart, Period } from './pastStart.ts'
import { startFacts } from './startFacts.ts'

/**
 * The moments of a date trigger in a period, the newest first: for each date that something had at
 * the moment that belongs to it. A date that was moved before its moment came is none; one that
 * became known after it is none either, unless the trigger starts at once then.
 */
export async function pastDates(
  db: Db,
  shop: Shop,
  trigger: DateTrigger,
  { from, now, oneIn = 1 }: Period,
): Promise<PastStart[]> {
  const dates = await heldDates(db, shop, trigger, { now, oneIn })
  const ids = [...new Set(dates.map(({ customerId }) => customerId))]
  const customers = trigger.zone === 'shop' ? null : await loadCustomers(db, shop.id, ids)
  const starts = dates.flatMap((held) => {
    const customer = customers?.get(held.customerId)
    const zone = customer ? zoneOf({ shop, customer, order: held.entity.order }) : shop.zone
    const at = startOf(trigger, held, zone)
    const { knownAt: _known, until: _until, isNew: _new, ...start } = held
    return at === null || at > now ? [] : [{ ...start, at }]
  })
  return onceEach(starts)
    .filter(({ at }) => at > from)
    .toSorted((a, b) => b.at - a.at)
}

/** When a date starts a run: at its moment, at once where that is past already, or never. */
function startOf(trigger: DateTrigger, held: HeldDate, zone: string): Instant | null {
  const { date, knownAt: now, until, isNew } = held
  const moment = triggerMoment(trigger, date, zone)
  if (moment >= now) return moment < until ? moment : null
  return isNew && startsAtOnce(trigger, { date, moment, now, zone }) ? now : null
}

/** A date that is moved away and back starts once, the first time. */
function onceEach(starts: readonly PastStart[]): PastStart[] {
  const first = starts.toSorted((a, b) => a.at - b.at)
  const keyOf = ({ customerId, subjectId, line, date }: PastStart): string =>
    JSON.stringify([customerId, subjectId, line, date])
  const seen = new Map<string, PastStart>()
  for (const one of first) if (!seen.has(keyOf(one))) seen.set(keyOf(one), one)
  return [...seen.values()]
}

/** Up to when, and of whom. */
export type Drawn = Required<Pick<Period, 'now' | 'oneIn'>>

function heldDates(db: Db, shop: Shop, trigger: DateTrigger, drawn: Drawn): Promise<HeldDate[]> {
  if (trigger.field === 'customer.createdAt') return customersSince(db, shop.id, drawn)
  if (trigger.field === 'customer.lastOrderAt') return lastOrders(db, shop.id, drawn)
  if (trigger.field === 'line.reorderAt') return pastReorders(db, shop, drawn)
  return datesOfThings(db, shop, trigger, drawn)
}

const eventRow = z.object({
  type: z.enum(EVENT_TYPES),
  at: z.number(),
  customerId: z.string(),
  subjectId: z.string(),
  data: document<EventData>(),
})
type EventRow = z.infer<typeof eventRow>

/** The dates of orders, checkouts, subscriptions …, by what their events told of them. */
async function datesOfThings(
  db: Db,
  shop: Shop,
  trigger: DateTrigger,
  { now, oneIn }: Drawn,
): Promise<HeldDate[]> {
  const subject = subjectOf(trigger)
  const types = EVENT_TYPES.filter((type) => subjectKindOf(type) === subject)
  const rows = await rowsOf(
    db,
    eventRow,
    sql`select type, time as at, customer_id as "customerId", subject_id as "subjectId", data
    from events where shop_id = ${shop.id} and type = any(${arrayOf(types, 'text')})
      and time <= ${now} and ${isDrawn(sql`customer_id`, oneIn)} ${onlyWithDates(trigger.field, shop.id)} order by time, seq`,
  )
  const customers = await loadCustomers(db, shop.id, [
    ...new Set(rows.map(({ customerId }) => customerId)),
  ])
  const datesAfter = ({ customerId, subjectId }: EventRow, entity: EntityFacts) => {
    const customer = customers.get(customerId)
    if (!customer) return []
    const known = { shop, customer, past: [], now }
    return datesOf(trigger.field, startFacts(trigger, { subjectId, entity }, known))
  }
  return [...grouped(rows, ({ subjectId }) => subjectId).values()].flatMap((own) =>
    ownDates(own, datesAfter),
  )
}

/** Few orders have a booked date: the others need not be looked at. */
function onlyWithDates(field: string, shopId: string): SQL {
  if (field !== 'line.startsAt' && field !== 'order.firstDate') return sql``
  return sql`and subject_id in (select subject_id from events where shop_id = ${shopId}
    and type like 'order.%' and jsonb_path_exists(data, '$.order.lines[*].startsAt'))`
}

/** The dates one thing had, one after the other. */
function ownDates(
  events: readonly EventRow[],
  datesAfter: (event: EventRow, entity: EntityFacts) => OwnDate[],
): HeldDate[] {
  let before: OwnDate[] = []
  return events.flatMap((event, index) => {
    const { type, at, customerId, subjectId, data } = event
    const entity = sinceItsStart(entityFacts(type, data, at), events)
    const until = events[index + 1]?.at ?? Infinity
    const held = { customerId, subjectId, knownAt: at, until, entity }
    const dates = datesAfter(event, entity)
    const fresh = newDates(dates, before)
    before = dates
    return dates.map((one) => ({ ...one, ...held, isNew: fresh.includes(one) }))
  })
}

/** Events tell of when a thing began only by the time of the one that began it. */
function sinceItsStart(entity: EntityFacts, events: readonly EventRow[]): EntityFacts {
  const placedAt = events.find(({ type }) => type === 'order.placed')?.at ?? null
  const startedAt = events[0]?.at ?? 0
  const { order, checkout, basket } = entity
  return {
    ...entity,
    order: order && { ...order, placedAt },
    checkout: checkout && { ...checkout, startedAt },
    basket: basket && { ...basket, startedAt },
  }
}

async function customersSince(db: Db, shopId: string, { now, oneIn }: Drawn): Promise<HeldDate[]> {
  const rows = await rowsOf(
    db,
    z.object({
      id: z.string(),
      at: z.number(),
    }),
    sql`select id, created_at as at from customers
    where shop_id = ${shopId} and created_at <= ${now} and ${isDrawn(sql`id`, oneIn)}`,
  )
  return rows.map(({ id, at }) => aboutCustomer(id, at, Infinity))
}

/** When customers had ordered last, until they ordered again. */
async function lastOrders(db: Db, shopId: string, { now, oneIn }: Drawn): Promise<HeldDate[]> {
  const rows = await rowsOf(
    db,
    z.object({
      id: z.string(),
      at: z.number(),
      next: z.number().nullable(),
    }),
    sql`select customer_id as id, time as at,
      lead(time) over (partition by customer_id order by time) as next
    from events where shop_id = ${shopId} and type = 'order.placed' and time <= ${now}
      and ${isDrawn(sql`customer_id`, oneIn)}`,
  )
  return rows.map(({ id, at, next }) => aboutCustomer(id, at, next ?? Infinity))
}

const aboutCustomer = (customerId: string, at: Instant, until: Instant): HeldDate => ({
  customerId,
  subjectId: null,
  line: null,
  date: at,
  knownAt: at,
  until,
  isNew: true,
  entity: NO_ENTITY,
})
