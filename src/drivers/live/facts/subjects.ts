import { sql } from 'drizzle-orm'
import { arrayOf, uncheckedRows, type Db } from '../../../backend/platform/db.ts'
import type { EventData } from '../../../core/events/cloudEvent.ts'
import type {
  CartData,
  OrderLineData,
  ReviewData,
  SubscriptionData,
} from '../../../core/events/entities.ts'
import {
  cartFacts,
  entityFacts,
  lineFacts,
  NO_ENTITY,
  reviewFacts,
  subscriptionFacts,
} from '../../../core/events/entityFacts.ts'
import type { EventType, SubjectKind } from '../../../core/events/eventTypes.ts'
import type {
  EntityFacts,
  LineFacts,
  OrderFacts,
  ReviewFacts,
  SubscriptionFacts,
} from '../../../core/events/facts.ts'
import { formatInstant, type Instant } from '../../../core/shared/time.ts'
import { grouped } from './grouped.ts'
import type { FactRequest } from './request.ts'

/** Loads what runs are about, as it is now. Returns how to look it up. */
export async function loadSubjects(
  db: Db,
  shopId: string,
  requests: readonly FactRequest[],
): Promise<(request: FactRequest) => EntityFacts> {
  const idsOf = (kind: SubjectKind): string[] => [
    ...new Set(
      requests.flatMap((request) =>
        request.subjectKind === kind ? (request.subjectId ?? []) : [],
      ),
    ),
  ]
  const orders = await loadOrders(db, shopId, idsOf('order'))
  const checkouts = await loadCarts(db, shopId, 'checkout', idsOf('checkout'))
  const baskets = await loadCarts(db, shopId, 'basket', idsOf('basket'))
  const subscriptions = await loadSubscriptions(db, shopId, idsOf('subscription'))
  const reviews = await loadReviews(db, shopId, idsOf('review'))
  const seqs = requests.flatMap((request) => request.eventSeq ?? [])
  const products = await loadEventProducts(db, shopId, seqs)
  return ({ subjectKind, subjectId, line, eventSeq }) => {
    const id = subjectId ?? ''
    switch (subjectKind) {
      case 'order':
        return ofOrder(orders.get(id), line)
      case 'checkout':
        return { ...NO_ENTITY, checkout: checkouts.get(id) ?? null }
      case 'basket':
        return { ...NO_ENTITY, basket: baskets.get(id) ?? null }
      case 'subscription':
        return ofSubscription(subscriptions.get(id))
      case 'review':
        return ofReview(reviews.get(id))
      default:
        return { ...NO_ENTITY, line: products.get(eventSeq ?? -1) ?? null }
    }
  }
}

const ofSubscription = (subscription: SubscriptionFacts | undefined): EntityFacts =>
  subscription ? { ...NO_ENTITY, subscription, line: subscription.product } : NO_ENTITY

const ofReview = (review: ReviewFacts | undefined): EntityFacts =>
  review ? { ...NO_ENTITY, review, line: review.product } : NO_ENTITY

function ofOrder(order: OrderFacts | undefined, line: number | null): EntityFacts {
  if (!order) return NO_ENTITY
  return { ...NO_ENTITY, order, line: line === null ? null : (order.lines[line] ?? null) }
}

type OrderRow = Omit<OrderFacts, 'lines'> & Record<string, unknown>
type LineRow = Omit<OrderLineData, 'startsAt'> & {
  orderId: string
  startsAt: Instant | null
} & Record<string, unknown>

async function loadOrders(db: Db, shopId: string, ids: string[]): Promise<Map<string, OrderFacts>> {
  if (ids.length === 0) return new Map()
  const rows = await uncheckedRows<OrderRow>(
    db,
    sql`select id, number, status, currency, total_minor as "totalMinor", placed_at as "placedAt",
      shipping_country as "shippingCountry", shipping_region as "shippingRegion",
      payment_method as "paymentMethod", tracking_url as "trackingUrl", coupon_codes as "couponCodes",
      details
    from orders where shop_id = ${shopId} and id = any(${arrayOf(ids, 'text')})`,
  )
  const lineRows = await uncheckedRows<LineRow>(
    db,
    sql`select order_id as "orderId", product_id as "productId", title, category, tags, quantity,
      unit_price_minor as "unitPriceMinor", starts_at as "startsAt"
    from order_lines where shop_id = ${shopId} and order_id = any(${arrayOf(ids, 'text')})
    order by order_id, position`,
  )
  const lines = grouped(lineRows, (line) => line.orderId)
  return new Map(
    rows.map((row) => [
      row.id,
      {
        ...row,
        lines: (lines.get(row.id) ?? []).map(({ startsAt, ...line }) => ({
          ...lineFacts(line, row.currency),
          startsAt,
        })),
      },
    ]),
  )
}

async function loadCarts(db: Db, shopId: string, kind: 'basket' | 'checkout', ids: string[]) {
  if (ids.length === 0) return new Map<string, ReturnType<typeof cartFacts>>()
  const rows = await uncheckedRows<CartData & { startedAt: Instant } & Record<string, unknown>>(
    db,
    sql`select id, customer_id as "customerId", currency, total_minor as "totalMinor", url, lines,
      started_at as "startedAt"
    from carts where shop_id = ${shopId} and kind = ${kind} and id = any(${arrayOf(ids, 'text')})`,
  )
  return new Map(rows.map((row) => [row.id, cartFacts(row, row.startedAt)]))
}

type DateColumns = 'startedAt' | 'nextPaymentAt' | 'endsAt' | 'trialEndsAt'
type SubscriptionRow = Omit<SubscriptionData, DateColumns> &
  Record<DateColumns, Instant | null> &
  Record<string, unknown>

async function loadSubscriptions(db: Db, shopId: string, ids: string[]) {
  if (ids.length === 0) return new Map<string, ReturnType<typeof subscriptionFacts>>()
  const rows = await uncheckedRows<SubscriptionRow>(
    db,
    sql`select id, customer_id as "customerId", status, product_id as "productId", title, category,
      amount_minor as "amountMinor", currency, interval, automatic,
      payment_method as "paymentMethod", started_at as "startedAt",
      next_payment_at as "nextPaymentAt", ends_at as "endsAt", trial_ends_at as "trialEndsAt", url
    from subscriptions where shop_id = ${shopId} and id = any(${arrayOf(ids, 'text')})`,
  )
  const text = (at: Instant | null) => (at === null ? null : formatInstant(at))
  return new Map(
    rows.map((row) => [
      row.id,
      subscriptionFacts({
        ...row,
        startedAt: text(row.startedAt),
        nextPaymentAt: text(row.nextPaymentAt),
        endsAt: text(row.endsAt),
        trialEndsAt: text(row.trialEndsAt),
      }),
    ]),
  )
}

async function loadReviews(db: Db, shopId: string, ids: string[]) {
  if (ids.length === 0) return new Map<string, ReturnType<typeof reviewFacts>>()
  const rows = await uncheckedRows<ReviewData & Record<string, unknown>>(
    db,
    sql`select id, customer_id as "customerId", order_id as "orderId", product_id as "productId",
      title, category, stars, text
    from reviews where shop_id = ${shopId} and id = any(${arrayOf(ids, 'text')})`,
  )
  return new Map(rows.map((row) => [row.id, reviewFacts(row)]))
}

/** The products that events were about, by the events' place in the order of arrival. */
async function loadEventProducts(
  db: Db,
  shopId: string,
  seqs: readonly number[],
): Promise<Map<number, LineFacts | null>> {
  if (seqs.length === 0) return new Map()
  const rows = await uncheckedRows<{
    seq: number
    type: EventType
    time: Instant
    data: EventData
  }>(
    db,
    sql`select seq, type, time, data from events
    where shop_id = ${shopId} and seq = any(${arrayOf(seqs, 'bigint')})`,
  )
  return new Map(rows.map((row) => [row.seq, entityFacts(row.type, row.data, row.time).line]))
}
