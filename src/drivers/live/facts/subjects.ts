import { and, asc, eq, getTableColumns, sql, type SQL } from 'drizzle-orm'
import type { PgColumn } from 'drizzle-orm/pg-core'
import { z } from 'zod'
import { arrayOf, document, rowsOf, type Db } from '../../../backend/platform/db.ts'
import type { EventData } from '../../../core/events/cloudEvent.ts'
import { expectedReorders } from '../../../backend/reorder/tables.ts'
import { carts, orderLines, orders, reviews, subscriptions } from '../../../backend/shop/tables.ts'
import {
  cartFacts,
  entityFacts,
  lineFacts,
  NO_ENTITY,
  reviewFacts,
  subscriptionFacts,
} from '../../../core/events/entityFacts.ts'
import { EVENT_TYPES, type SubjectKind } from '../../../core/events/eventTypes.ts'
import type {
  EntityFacts,
  LineFacts,
  OrderFacts,
  ReviewFacts,
  SubscriptionFacts,
} from '../../../core/events/facts.ts'
import { formatInstant, type Instant } from '../../../core/shared/time.ts'
import { grouped } from '../../../core/shared/grouped.ts'
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
  const ordersById = await loadOrders(db, shopId, idsOf('order'))
  const checkouts = await loadCarts(db, shopId, 'checkout', idsOf('checkout'))
  const baskets = await loadCarts(db, shopId, 'basket', idsOf('basket'))
  const subscriptionsById = await loadSubscriptions(db, shopId, idsOf('subscription'))
  const reviewsById = await loadReviews(db, shopId, idsOf('review'))
  const seqs = requests.flatMap((request) => request.eventSeq ?? [])
  const products = await loadEventProducts(db, shopId, seqs)
  return ({ subjectKind, subjectId, line, eventSeq }) => {
    const id = subjectId ?? ''
    switch (subjectKind) {
      case 'order':
        return ofOrder(ordersById.get(id), line)
      case 'checkout':
        return { ...NO_ENTITY, checkout: checkouts.get(id) ?? null }
      case 'basket':
        return { ...NO_ENTITY, basket: baskets.get(id) ?? null }
      case 'subscription':
        return ofSubscription(subscriptionsById.get(id))
      case 'review':
        return ofReview(reviewsById.get(id))
      case 'customer':
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

async function loadOrders(db: Db, shopId: string, ids: string[]): Promise<Map<string, OrderFacts>> {
  if (ids.length === 0) return new Map()
  const { shopId: _shop, customerId: _customer, asOf: _asOf, ...shown } = getTableColumns(orders)
  const rows = await db
    .select(shown)
    .from(orders)
    .where(and(eq(orders.shopId, shopId), isAnyOf(orders.id, ids)))
  const lineRows = await db
    .select()
    .from(orderLines)
    .where(and(eq(orderLines.shopId, shopId), isAnyOf(orderLines.orderId, ids)))
    .orderBy(asc(orderLines.orderId), asc(orderLines.position))
  const expected = await db
    .select()
    .from(expectedReorders)
    .where(and(eq(expectedReorders.shopId, shopId), isAnyOf(expectedReorders.orderId, ids)))
  const reorders = new Map(expected.map((one) => [`${one.orderId} ${one.line}`, one.expected]))
  const lines = grouped(lineRows, (line) => line.orderId)
  return new Map(
    rows.map((row) => [
      row.id,
      {
        ...row,
        lines: (lines.get(row.id) ?? []).map(({ startsAt, ...line }) => ({
          ...lineFacts(line, row.currency),
          startsAt,
          reorder: reorders.get(`${line.orderId} ${line.position}`) ?? null,
        })),
      },
    ]),
  )
}

async function loadCarts(db: Db, shopId: string, kind: 'basket' | 'checkout', ids: string[]) {
  if (ids.length === 0) return new Map<string, ReturnType<typeof cartFacts>>()
  const rows = await db
    .select()
    .from(carts)
    .where(and(eq(carts.shopId, shopId), eq(carts.kind, kind), isAnyOf(carts.id, ids)))
  return new Map(rows.map((row) => [row.id, cartFacts(row, row.startedAt)]))
}

async function loadSubscriptions(db: Db, shopId: string, ids: string[]) {
  if (ids.length === 0) return new Map<string, ReturnType<typeof subscriptionFacts>>()
  const rows = await db
    .select()
    .from(subscriptions)
    .where(and(eq(subscriptions.shopId, shopId), isAnyOf(subscriptions.id, ids)))
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
  const rows = await db
    .select()
    .from(reviews)
    .where(and(eq(reviews.shopId, shopId), isAnyOf(reviews.id, ids)))
  return new Map(rows.map((row) => [row.id, reviewFacts(row)]))
}

/** As one parameter: a statement with another number of them each time would be planned anew. */
const isAnyOf = (column: PgColumn, ids: readonly string[]): SQL =>
  sql`${column} = any(${arrayOf(ids, 'text')})`

/** The products that events were about, by the events' place in the order of arrival. */
async function loadEventProducts(
  db: Db,
  shopId: string,
  seqs: readonly number[],
): Promise<Map<number, LineFacts | null>> {
  if (seqs.length === 0) return new Map()
  const rows = await rowsOf(
    db,
    z.object({
      seq: z.number(),
      type: z.enum(EVENT_TYPES),
      time: z.number(),
      data: document<EventData>(),
    }),
    sql`select seq, type, time, data from events
    where shop_id = ${shopId} and seq = any(${arrayOf(seqs, 'bigint')})`,
  )
  return new Map(rows.map((row) => [row.seq, entityFacts(row.type, row.data, row.time).line]))
}
