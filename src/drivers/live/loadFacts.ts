import { sql } from 'drizzle-orm'
import { arrayOf, rowsOf, type Db } from '../../backend/platform/db.ts'
import type { Shop } from '../../backend/shop/index.ts'
import type { OrderStatus } from '../../core/events/entities.ts'
import type { EventType } from '../../core/events/eventTypes.ts'
import type {
  CustomerFacts,
  Facts,
  OrderFacts,
  OrderLineFacts,
  PastEvent,
} from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'

/** What one run is about, and which events its program counts. */
export interface FactRequest {
  customerId: string
  orderId: string | null
  counts: ReadonlySet<EventType>
}

/** An event of the past with its place in the order of arrival. */
export interface ArrivedEvent extends PastEvent {
  seq: number
}

/** Gives the facts of a request that was part of the batch. Throws RangeError for any other. */
export type FactSource = (
  request: Omit<FactRequest, 'counts'>,
) => Omit<Facts, 'history'> & { history: readonly ArrivedEvent[] }

export interface LoadOptions {
  /**
   * Leave out events that no worker has looked at yet. Whether an event starts a run must not hang
   * on what came in with it or behind it, or the first of two orders would count as one of two.
   */
  consideredOnly?: boolean
}

/** Fetches the facts for a whole batch in four queries, however many requests it has. */
export async function loadFacts(
  db: Db,
  shop: Shop,
  requests: readonly FactRequest[],
  now: Instant,
  { consideredOnly = false }: LoadOptions = {},
): Promise<FactSource> {
  const customerIds = [...new Set(requests.map((request) => request.customerId))]
  const orderIds = [...new Set(requests.flatMap((request) => request.orderId ?? []))]
  const types = [...new Set(requests.flatMap((request) => [...request.counts]))]
  const customers = await loadCustomers(db, shop.id, customerIds)
  const orders = await loadOrders(db, shop.id, orderIds)
  const history = await loadHistory(db, shop.id, customerIds, types, now, consideredOnly)
  return ({ customerId, orderId }) => {
    const customer = customers.get(customerId)
    if (!customer) throw new RangeError(`There is no customer ${customerId}`)
    const order = orderId === null ? null : (orders.get(orderId) ?? null)
    return { now, shop, customer, order, history: history.get(customerId) ?? [] }
  }
}

async function loadCustomers(
  db: Db,
  shopId: string,
  ids: string[],
): Promise<Map<string, CustomerFacts>> {
  const rows = await rowsOf<CustomerFacts & Record<string, unknown>>(
    db,
    sql`select id, email, first_name as "firstName", last_name as "lastName", phone, zone, country,
      language, email_consent as "emailConsent", sms_consent as "smsConsent", suppressed
    from customers where shop_id = ${shopId} and id = any(${arrayOf(ids, 'text')})`,
  )
  return new Map(rows.map((row) => [row.id, row]))
}

type OrderRow = Omit<OrderFacts, 'lines'> & { status: OrderStatus } & Record<string, unknown>
type LineRow = OrderLineFacts & { orderId: string } & Record<string, unknown>

async function loadOrders(db: Db, shopId: string, ids: string[]): Promise<Map<string, OrderFacts>> {
  if (ids.length === 0) return new Map()
  const rows = await rowsOf<OrderRow>(
    db,
    sql`select id, number, status, currency, total_minor as "totalMinor", placed_at as "placedAt",
      shipping_country as "shippingCountry", payment_method as "paymentMethod",
      tracking_url as "trackingUrl"
    from orders where shop_id = ${shopId} and id = any(${arrayOf(ids, 'text')})`,
  )
  const lineRows = await rowsOf<LineRow>(
    db,
    sql`select order_id as "orderId", product_id as "productId", title, collection, quantity,
      unit_price_minor as "unitPriceMinor"
    from order_lines where shop_id = ${shopId} and order_id = any(${arrayOf(ids, 'text')})
    order by order_id, position`,
  )
  const lines = grouped(lineRows, (line) => line.orderId)
  return new Map(rows.map((row) => [row.id, { ...row, lines: lines.get(row.id) ?? [] }]))
}

type EventRow = ArrivedEvent & { customerId: string } & Record<string, unknown>

async function loadHistory(
  db: Db,
  shopId: string,
  customerIds: string[],
  types: EventType[],
  now: Instant,
  consideredOnly: boolean,
): Promise<Map<string, ArrivedEvent[]>> {
  if (types.length === 0) return new Map()
  const rows = await rowsOf<EventRow>(
    db,
    sql`select seq, customer_id as "customerId", type, time as at, order_id as "orderId"
    from events where shop_id = ${shopId} and customer_id = any(${arrayOf(customerIds, 'text')})
      and type = any(${arrayOf(types, 'text')}) and time <= ${now}
      and (considered or not ${consideredOnly})`,
  )
  return grouped(rows, (row) => row.customerId)
}

function grouped<Row>(rows: readonly Row[], keyOf: (row: Row) => string): Map<string, Row[]> {
  const groups = new Map<string, Row[]>()
  for (const row of rows) {
    const group = groups.get(keyOf(row))
    if (group) group.push(row)
    else groups.set(keyOf(row), [row])
  }
  return groups
}
