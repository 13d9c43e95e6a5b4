import { randomUUID } from 'node:crypto'
import { and, asc, eq, inArray, sql } from 'drizzle-orm'
import { z } from 'zod'
import type {
  CounterCustomer,
  CounterOrder,
  CounterProduct,
  OrderAction,
  PlaceOrderBody,
} from '../../contract/counter.ts'
import { couponRefusalWords } from '../../core/words/couponRefusal.ts'
import { redemption } from '../../core/coupons/redeem.ts'
import { orderStatus, type CustomerData, type OrderData } from '../../core/events/entities.ts'
import { ORDER_STATUSES, type OrderStatus } from '../../core/events/entities.ts'
import { formatInstant } from '../../core/shared/time.ts'
import { containing, rowsOf, type Database, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { findCoupon } from '../coupons/index.ts'
import { readClock, tickClock } from './clock.ts'
import { ingestEvents } from './ingest.ts'
import { customers, orderLines, orders, products } from './tables.ts'

/** What the counter's events name as their source (CloudEvents 1.0). */
const SOURCE = '/counter'

/** Everything that can be sold, by category. */
export async function counterProducts(db: Db, shopId: string): Promise<CounterProduct[]> {
  return db
    .select({
      id: products.id,
      title: products.title,
      category: products.category,
      priceMinor: products.priceMinor,
      currency: products.currency,
    })
    .from(products)
    .where(eq(products.shopId, shopId))
    .orderBy(asc(products.category), asc(products.title))
}

const customerRow = z.object({
  id: z.string(),
  name: z.string(),
  email: z.string().nullable(),
  country: z.string().nullable(),
  orders: z.number(),
})

/** Customers whose name or address holds the text; the newest when it is empty. */
export async function counterCustomers(
  db: Db,
  shopId: string,
  search: string,
): Promise<CounterCustomer[]> {
  return rowsOf(
    db,
    customerRow,
    sql`select c.id, concat_ws(' ', c.first_name, c.last_name) as name, c.email, c.country,
      (select count(*) from orders o where o.shop_id = c.shop_id and o.customer_id = c.id) as orders
    from customers c
    where c.shop_id = ${shopId} and c.search ilike ${containing(search)}
    order by c.as_of desc, c.id limit 12`,
  )
}

const orderRow = z.object({
  id: z.string(),
  number: z.string(),
  customer: z.string(),
  status: orderStatus,
  totalMinor: z.number(),
  currency: z.string(),
  items: z.number(),
  at: z.number(),
})

/** The orders in which something happened last, newest first. */
export async function counterOrders(db: Db, shopId: string): Promise<CounterOrder[]> {
  const rows = await rowsOf(
    db,
    orderRow,
    sql`select o.id, o.number, coalesce(nullif(concat_ws(' ', c.first_name, c.last_name), ''), c.email,
        o.customer_id) as customer, o.status, o.total_minor as "totalMinor", o.currency,
      (select coalesce(sum(quantity), 0) from order_lines l
        where l.shop_id = o.shop_id and l.order_id = o.id) as items, o.as_of as at
    from orders o
    left join customers c on c.shop_id = o.shop_id and c.id = o.customer_id
    where o.shop_id = ${shopId} order by o.as_of desc, o.number desc limit 30`,
  )
  return rows
}

/** Places an order as the shop would: an event like any other. Returns the order's number. */
export async function placeOrder(
  db: Database,
  shopId: string,
  body: PlaceOrderBody,
): Promise<string> {
  const customer = await customerOf(db, shopId, body.customer)
  const lines = await linesOf(db, shopId, body.lines)
  const currency = lines[0]?.currency ?? ''
  const sum = lines.reduce((all, line) => all + line.quantity * line.unitPriceMinor, 0)
  const code = body.code?.trim().toUpperCase() ?? ''
  const off = code === '' ? 0 : await takenOff(db, shopId, code, { customer, lines, currency })
  const order: OrderData = {
    id: `o-${randomUUID()}`,
    number: await nextNumber(db, shopId),
    customerId: customer.id,
    currency,
    totalMinor: sum - off,
    ...(code === '' ? {} : { couponCodes: [code] }),
    amounts: { itemsMinor: sum, discountMinor: off },
    shippingCountry: customer.country ?? null,
    paymentMethod: 'card',
    lines: lines.map(({ currency: _currency, ...line }) => ({
      ...line,
      ...(body.bookedFor !== undefined && { startsAt: formatInstant(body.bookedFor) }),
    })),
  }
  await send(db, shopId, 'order.placed', { order, customer })
  return order.number
}

/** What a code takes off. Throws AppError that says why it does not count. */
async function takenOff(
  db: Db,
  shopId: string,
  code: string,
  {
    customer,
    lines,
    currency,
  }: { customer: CustomerData; lines: Awaited<ReturnType<typeof linesOf>>; currency: string },
): Promise<number> {
  const coupon = await findCoupon(db, shopId, code, customer.id)
  const { now } = await readClock(db, shopId)
  const redeemed = coupon
    ? redemption(coupon, {
        now,
        customerId: customer.id,
        currency,
        lines: lines.map(({ category, quantity, unitPriceMinor }) => ({
          category,
          quantity,
          unitPriceMinor,
        })),
        used: coupon.used,
      })
    : ({ ok: false, refusal: { code: 'unknownCode' } } as const)
  if (redeemed.ok) return redeemed.offMinor
  throw new AppError('bad_input', 'The code does not count.', [
    {
      path: 'code',
      code: redeemed.refusal.code,
      message: couponRefusalWords(redeemed.refusal),
    },
  ])
}

/** Whom it happens to: somebody known is only named, so that what is known of them stays. */
export async function customerOf(
  db: Db,
  shopId: string,
  who: PlaceOrderBody['customer'],
): Promise<CustomerData> {
  const match =
    'id' in who
      ? eq(customers.id, who.id)
      : eq(sql`lower(${customers.email})`, who.email.toLowerCase())
  const [known] = await db
    .select({ id: customers.id })
    .from(customers)
    .where(and(eq(customers.shopId, shopId), match))
    .limit(1)
  // What is known of them stays as it is.
  if (known) return { id: known.id }
  if ('id' in who) throw new AppError('not_found', 'There is no such customer.')
  return {
    id: `c-${randomUUID()}`,
    email: who.email,
    firstName: who.firstName ?? null,
    lastName: who.lastName ?? null,
    emailConsent: who.emailConsent,
  }
}

/** The products that were chosen, as lines. Throws AppError with the path of one that does not exist. */
export async function linesOf(db: Db, shopId: string, wanted: PlaceOrderBody['lines']) {
  const ids = wanted.map((line) => line.productId)
  const rows = await db
    .select()
    .from(products)
    .where(and(eq(products.shopId, shopId), inArray(products.id, ids)))
  const byId = new Map(rows.map((row) => [row.id, row]))
  return wanted.map(({ productId, quantity }, index) => {
    const product = byId.get(productId)
    if (!product) {
      const problem = { path: `lines.${index}.productId`, message: 'there is no such product' }
      throw new AppError('bad_input', 'One of the products does not exist.', [problem])
    }
    const { title, category, priceMinor, currency } = product
    return { productId, title, category, quantity, unitPriceMinor: priceMinor, currency }
  })
}

async function nextNumber(db: Db, shopId: string): Promise<string> {
  const [row] = await rowsOf(
    db,
    z.object({
      next: z.number(),
    }),
    sql`select coalesce(max(number::bigint), 1000) + 1 as next from orders
    where shop_id = ${shopId} and number ~ '^[0-9]{1,12}$'`,
  )
  return String(row?.next ?? 1001)
}

/** What may happen to an order in each state. */
const ALLOWED: Readonly<Record<OrderStatus, readonly OrderAction[]>> = {
  placed: ['paid', 'processing', 'fulfilled', 'cancelled', 'payment_failed'],
  payment_due: ['paid', 'cancelled', 'payment_failed'],
  paid: ['processing', 'fulfilled', 'problem', 'cancelled', 'refunded'],
  preparing: ['fulfilled', 'problem', 'cancelled', 'refunded'],
  problem: ['paid', 'fulfilled', 'cancelled'],
  closed: ['refunded'],
  fulfilled: ['delivered', 'completed', 'refunded'],
  delivered: ['completed', 'refunded'],
  cancelled: ['refunded'],
  refunded: [],
}

/** Lets something happen to an order. Throws AppError `not_found`, or `conflict` if it cannot. */
export async function actOnOrder(
  db: Database,
  shopId: string,
  id: string,
  action: OrderAction,
): Promise<void> {
  const [row] = await db
    .select()
    .from(orders)
    .where(and(eq(orders.shopId, shopId), eq(orders.id, id)))
  if (!row) throw new AppError('not_found', 'There is no such order.')
  if (!ALLOWED[row.status].includes(action)) {
    const state = ORDER_STATUSES[row.status]
    throw new AppError('conflict', `Order ${row.number} is ${state}; that cannot happen to it now.`)
  }
  const lines = await db
    .select()
    .from(orderLines)
    .where(and(eq(orderLines.shopId, shopId), eq(orderLines.orderId, id)))
    .orderBy(asc(orderLines.position))
  const order: OrderData = {
    id,
    number: row.number,
    customerId: row.customerId,
    currency: row.currency,
    totalMinor: row.totalMinor,
    shippingCountry: row.shippingCountry,
    shippingRegion: row.shippingRegion,
    paymentMethod: row.paymentMethod,
    trackingUrl: action === 'fulfilled' ? `https://parcels.example/${row.number}` : row.trackingUrl,
    couponCodes: row.couponCodes,
    ...row.details,
    lines: lines.map(
      ({ productId, title, category, tags, quantity, unitPriceMinor, startsAt }) => ({
        productId,
        title,
        category,
        tags,
        quantity,
        unitPriceMinor,
        startsAt: startsAt === null ? null : formatInstant(startsAt),
      }),
    ),
  }
  if (action === 'problem') {
    const change = { from: row.status, to: 'problem' }
    return send(db, shopId, 'order.status_changed', { order, ...change })
  }
  await send(db, shopId, `order.${action}`, { order })
}

/** Takes an event in as if the shop had sent it, a moment after what happened last. */
export async function send(
  db: Database,
  shopId: string,
  type: string,
  data: object,
): Promise<void> {
  const time = formatInstant(await tickClock(db, shopId))
  const event = { specversion: '1.0', id: randomUUID(), source: SOURCE, type, time, data }
  const [receipt] = await ingestEvents(db, shopId, [event])
  if (receipt?.status === 'refused') {
    throw new AppError('bad_input', 'This could not be taken.', receipt.problems)
  }
}
