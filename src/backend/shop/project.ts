import { sql } from 'drizzle-orm'
import type { CloudEvent } from '../../core/events/cloudEvent.ts'
import type { OrderData } from '../../core/events/entities.ts'
import type { Instant } from '../../core/shared/time.ts'
import { recordsOf, type Db } from '../platform/db.ts'

/** An event that is new, with the time it counts by. */
export interface TimedEvent {
  event: CloudEvent
  at: Instant
}

/**
 * Brings the shop's data up to the events: customers, orders with their lines, products. An older
 * state never overwrites a newer one, in whatever order the events arrive.
 */
export async function projectEvents(db: Db, shopId: string, events: TimedEvent[]): Promise<void> {
  const oldestFirst = events.toSorted((a, b) => a.at - b.at)
  await projectCustomers(db, shopId, oldestFirst)
  await projectOrders(db, shopId, oldestFirst)
}

async function projectCustomers(db: Db, shopId: string, events: TimedEvent[]): Promise<void> {
  const newest = new Map<string, object>()
  for (const { event, at } of events) {
    const customer = 'order' in event.data ? event.data.customer : event.data.customer
    if (customer) newest.set(customer.id, { ...customer, asOf: at })
    // Someone who is only named by an order exists too; nothing is known of them yet.
    else if ('order' in event.data && !newest.has(event.data.order.customerId)) {
      newest.set(event.data.order.customerId, { id: event.data.order.customerId, asOf: null })
    }
  }
  await db.execute(sql`
    insert into customers as known (shop_id, id, email, first_name, last_name, phone, zone, country,
      language, email_consent, sms_consent, as_of)
    select ${shopId}, c.id, c.email, nullif(c."firstName", ''), nullif(c."lastName", ''), c.phone,
      c.zone, c.country, c.language, c."emailConsent", c."smsConsent", coalesce(c."asOf", 0)
    from jsonb_to_recordset(${recordsOf([...newest.values()])}) as c(id text, email text,
      "firstName" text, "lastName" text, phone text, zone text, country text, language text,
      "emailConsent" boolean, "smsConsent" boolean, "asOf" bigint)
    order by c.id
    on conflict (shop_id, id) do update set email = excluded.email,
      first_name = excluded.first_name, last_name = excluded.last_name, phone = excluded.phone,
      zone = excluded.zone, country = excluded.country, language = excluded.language,
      email_consent = excluded.email_consent, sms_consent = excluded.sms_consent,
      as_of = excluded.as_of
    where known.as_of <= excluded.as_of and excluded.as_of > 0`)
}

interface OrderState {
  order: OrderData
  status: string
  placedAt: Instant | null
  asOf: Instant
}

async function projectOrders(db: Db, shopId: string, events: TimedEvent[]): Promise<void> {
  const newest = new Map<string, OrderState>()
  for (const { event, at } of events) {
    if (!('order' in event.data)) continue
    const { order } = event.data
    // Placed when it was first said to be.
    const before = newest.get(order.id)?.placedAt ?? null
    const placedAt = before ?? (event.type === 'order.placed' ? at : null)
    const status = event.type.slice('order.'.length)
    newest.set(order.id, { order, status, placedAt, asOf: at })
  }
  if (newest.size === 0) return
  const states = [...newest.values()]
  const changed = await upsertOrders(db, shopId, states)
  await replaceLines(
    db,
    shopId,
    states.filter(({ order }) => changed.has(order.id)),
  )
  await upsertProducts(db, shopId, events)
}

/** Returns the ids of the orders whose state was newer than what was known. */
async function upsertOrders(db: Db, shopId: string, states: OrderState[]): Promise<Set<string>> {
  const records = states
    .map(({ order, status, placedAt, asOf }) => ({
      ...order,
      lines: undefined,
      status,
      placedAt,
      asOf,
    }))
    .toSorted((a, b) => (a.id < b.id ? -1 : 1))
  const { rows } = await db.execute(sql`
    insert into orders as known (shop_id, id, number, customer_id, status, currency, total_minor,
      shipping_country, payment_method, tracking_url, placed_at, as_of)
    select ${shopId}, o.id, o.number, o."customerId", o.status, o.currency, o."totalMinor",
      o."shippingCountry", o."paymentMethod", o."trackingUrl", o."placedAt", o."asOf"
    from jsonb_to_recordset(${recordsOf(records)}) as o(id text, number text, "customerId" text,
      status text, currency text, "totalMinor" bigint, "shippingCountry" text,
      "paymentMethod" text, "trackingUrl" text, "placedAt" bigint, "asOf" bigint)
    on conflict (shop_id, id) do update set
      number = case when known.as_of <= excluded.as_of then excluded.number else known.number end,
      status = case when known.as_of <= excluded.as_of then excluded.status else known.status end,
      currency = case when known.as_of <= excluded.as_of then excluded.currency else known.currency end,
      total_minor = case when known.as_of <= excluded.as_of then excluded.total_minor else known.total_minor end,
      shipping_country = case when known.as_of <= excluded.as_of then excluded.shipping_country else known.shipping_country end,
      payment_method = case when known.as_of <= excluded.as_of then excluded.payment_method else known.payment_method end,
      tracking_url = case when known.as_of <= excluded.as_of then excluded.tracking_url else known.tracking_url end,
      placed_at = least(known.placed_at, excluded.placed_at),
      as_of = greatest(known.as_of, excluded.as_of)
    returning id, as_of`)
  const asOf = new Map(rows.map((row) => [row['id'], row['as_of']]))
  return new Set(
    states.filter((state) => asOf.get(state.order.id) === state.asOf).map(({ order }) => order.id),
  )
}

async function replaceLines(db: Db, shopId: string, states: OrderState[]): Promise<void> {
  const records = states.flatMap(({ order }) =>
    order.lines.map((line, position) => ({ ...line, orderId: order.id, position })),
  )
  await db.execute(sql`
    delete from order_lines where shop_id = ${shopId}
      and order_id = any(${sql.param(states.map(({ order }) => order.id))}::text[])`)
  await db.execute(sql`
    insert into order_lines (shop_id, order_id, position, product_id, title, collection, quantity,
      unit_price_minor)
    select ${shopId}, l."orderId", l.position, l."productId", l.title, l.collection, l.quantity,
      l."unitPriceMinor"
    from jsonb_to_recordset(${recordsOf(records)}) as l("orderId" text, position int,
      "productId" text, title text, collection text, quantity int, "unitPriceMinor" bigint)`)
}

/** Every event tells of the products in it, also one that tells nothing new of its order. */
async function upsertProducts(db: Db, shopId: string, events: TimedEvent[]): Promise<void> {
  const newest = new Map<string, object>()
  for (const { event, at } of events) {
    if (!('order' in event.data)) continue
    const { lines, currency } = event.data.order
    for (const { productId, title, collection, unitPriceMinor } of lines) {
      newest.set(JSON.stringify([productId, currency]), {
        id: productId,
        title,
        collection,
        unitPriceMinor,
        currency,
        asOf: at,
      })
    }
  }
  await db.execute(sql`
    insert into products as known (shop_id, id, title, collection, price_minor, currency, as_of)
    select ${shopId}, p.id, p.title, p.collection, p."unitPriceMinor", p.currency, p."asOf"
    from jsonb_to_recordset(${recordsOf([...newest.values()])}) as p(id text, title text,
      collection text, "unitPriceMinor" bigint, currency text, "asOf" bigint)
    -- A price in another currency says what that buyer paid, not what the shop asks.
    where p.currency = (select currency from shops where id = ${shopId})
    order by p.id
    on conflict (shop_id, id) do update set title = excluded.title,
      collection = excluded.collection, price_minor = excluded.price_minor,
      currency = excluded.currency, as_of = excluded.as_of
    where known.as_of <= excluded.as_of`)
}
