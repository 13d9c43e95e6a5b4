import { sql } from 'drizzle-orm'
import { orderDetails, statusAfter } from '../../../core/events/entityFacts.ts'
import type { OrderData, OrderLineData } from '../../../core/events/entities.ts'
import { parseInstant, type Instant } from '../../../core/shared/time.ts'
import { arrayOf, recordsOf, type Db } from '../../platform/db.ts'
import { expectReorders } from '../../reorder/index.ts'
import { takeNewer } from './newer.ts'
import type { TimedEvent } from './timedEvent.ts'

interface OrderState {
  order: OrderData
  status: string
  placedAt: Instant | null
  asOf: Instant
}

/** Orders with their lines, and the products that they and baskets tell of. */
export async function projectOrders(db: Db, shopId: string, events: TimedEvent[]): Promise<void> {
  const newest = new Map<string, OrderState>()
  for (const { event, at } of events) {
    if (!('order' in event.data)) continue
    const { order } = event.data
    // Placed when it was first said to be.
    const before = newest.get(order.id)?.placedAt ?? null
    const placedAt = before ?? (event.type === 'order.placed' ? at : null)
    const status = statusAfter(event.type, event.data)
    newest.set(order.id, { order, status, placedAt, asOf: at })
  }
  await upsertProducts(db, shopId, events)
  if (newest.size === 0) return
  const states = [...newest.values()]
  const changed = await upsertOrders(db, shopId, states)
  const newer = states.filter(({ order }) => changed.has(order.id))
  await replaceLines(db, shopId, newer)
  const ids = newer.map(({ order }) => order.id)
  await expectReorders(db, shopId, ids)
  await noteOrders(db, shopId, ids)
}

/** What becomes of an order later, changes what was counted when it was placed. */
async function noteOrders(db: Db, shopId: string, ids: readonly string[]): Promise<void> {
  await db.execute(sql`
    insert into changes (shop_id, customer_id, at)
    select shop_id, customer_id, placed_at from orders
    where shop_id = ${shopId} and id = any(${arrayOf(ids, 'text')}) and placed_at is not null`)
}

const ORDER_COLUMNS = [
  'number', 'status', 'currency', 'total_minor', 'shipping_country', 'shipping_region',
  'payment_method', 'tracking_url', 'coupon_codes', 'details',
] // prettier-ignore

/** Returns the ids of the orders whose state was newer than what was known. */
async function upsertOrders(db: Db, shopId: string, states: OrderState[]): Promise<Set<string>> {
  const records = states
    .map(({ order, status, placedAt, asOf }) => ({
      ...order,
      lines: undefined,
      details: orderDetails(order),
      status,
      placedAt,
      asOf,
    }))
    .toSorted((a, b) => (a.id < b.id ? -1 : 1))
  const { rows } = await db.execute(sql`
    insert into orders as known (shop_id, id, number, customer_id, status, currency, total_minor,
      shipping_country, shipping_region, payment_method, tracking_url, coupon_codes, details,
      placed_at, as_of)
    select ${shopId}, o.id, o.number, o."customerId", o.status, o.currency, o."totalMinor",
      o."shippingCountry", o."shippingRegion", o."paymentMethod", o."trackingUrl",
      coalesce(o."couponCodes", '[]'::jsonb), o.details, o."placedAt", o."asOf"
    from jsonb_to_recordset(${recordsOf(records)}) as o(id text, number text, "customerId" text,
      status text, currency text, "totalMinor" bigint, "shippingCountry" text,
      "shippingRegion" text, "paymentMethod" text, "trackingUrl" text, "couponCodes" jsonb,
      details jsonb, "placedAt" bigint, "asOf" bigint)
    on conflict (shop_id, id) do update set
      ${takeNewer(ORDER_COLUMNS)},
      placed_at = least(known.placed_at, excluded.placed_at)
    returning id, as_of`)
  const asOf = new Map(rows.map((row) => [row['id'], row['as_of']]))
  return new Set(
    states.filter((state) => asOf.get(state.order.id) === state.asOf).map(({ order }) => order.id),
  )
}

async function replaceLines(db: Db, shopId: string, states: OrderState[]): Promise<void> {
  const records = states.flatMap(({ order }) =>
    order.lines.map((line, position) => ({
      ...line,
      startsAt: line.startsAt ? parseInstant(line.startsAt) : null,
      orderId: order.id,
      position,
    })),
  )
  await db.execute(sql`
    delete from order_lines where shop_id = ${shopId}
      and order_id = any(${sql.param(states.map(({ order }) => order.id))}::text[])`)
  await db.execute(sql`
    insert into order_lines (shop_id, order_id, position, product_id, title, category, tags,
      quantity, unit_price_minor, starts_at, variant, url, image_url)
    select ${shopId}, l."orderId", l.position, l."productId", l.title, l.category,
      coalesce(l.tags, '[]'::jsonb), l.quantity, l."unitPriceMinor", l."startsAt",
      l.variant, l.url, l."imageUrl"
    from jsonb_to_recordset(${recordsOf(records)}) as l("orderId" text, position int,
      "productId" text, title text, category text, tags jsonb, quantity int,
      "unitPriceMinor" bigint, "startsAt" bigint, variant text, url text, "imageUrl" text)`)
}

/** The priced lines an event carries, with their currency. */
function linesOf({ event }: TimedEvent): { lines: OrderLineData[]; currency: string } {
  const { data } = event
  if ('order' in data) return data.order
  if ('basket' in data) return data.basket
  if ('checkout' in data) return data.checkout
  return { lines: [], currency: '' }
}

/** Every event tells of the products in it, also one that tells nothing new of its order. */
async function upsertProducts(db: Db, shopId: string, events: TimedEvent[]): Promise<void> {
  const newest = new Map<string, { firstSeenAt: Instant } & Record<string, unknown>>()
  for (const timed of events) {
    const { lines, currency } = linesOf(timed)
    for (const { productId, title, category, unitPriceMinor, url, imageUrl } of lines) {
      const key = JSON.stringify([productId, currency])
      const firstSeenAt = newest.get(key)?.firstSeenAt ?? timed.at
      newest.set(key, {
        id: productId,
        firstSeenAt,
        title,
        category,
        unitPriceMinor,
        currency,
        url,
        imageUrl,
        asOf: timed.at,
      })
    }
  }
  if (newest.size === 0) return
  await db.execute(sql`
    insert into products as known (shop_id, id, title, category, price_minor, currency, url, image_url,
      first_seen_at, as_of)
    select ${shopId}, p.id, p.title, p.category, p."unitPriceMinor", p.currency, p.url, p."imageUrl",
      p."firstSeenAt", p."asOf"
    from jsonb_to_recordset(${recordsOf([...newest.values()])}) as p(id text, title text,
      category text, "unitPriceMinor" bigint, currency text, url text, "imageUrl" text,
      "firstSeenAt" bigint, "asOf" bigint)
    -- A price in another currency says what that buyer paid, not what the shop asks.
    where p.currency = (select currency from shops where id = ${shopId})
    order by p.id
    on conflict (shop_id, id) do update set
      first_seen_at = least(known.first_seen_at, excluded.first_seen_at),
      -- Lines often say nothing of these; that takes nothing away.
      url = case when known.as_of <= excluded.as_of then coalesce(excluded.url, known.url)
        else coalesce(known.url, excluded.url) end,
      image_url = case when known.as_of <= excluded.as_of then coalesce(excluded.image_url, known.image_url)
        else coalesce(known.image_url, excluded.image_url) end,
      ${takeNewer(['title', 'category', 'price_minor', 'currency'])}`)
}
