import { randomUUID } from 'node:crypto'
import { and, eq, sql } from 'drizzle-orm'
import { z } from 'zod'
import type {
  CounterEvent,
  CounterHappening,
  CounterSubscription,
  SubscriptionAction,
} from '../../contract/counter.ts'
import {
  SUBSCRIPTION_STATUSES,
  subscriptionStatus,
  type CustomerData,
  type SubscriptionStatus,
} from '../../core/events/entities.ts'
import { EVENT_TYPES } from '../../core/events/eventTypes.ts'
import { formatMoney } from '../../core/shared/money.ts'
import { addDuration, DAY_MS } from '../../core/shared/duration.ts'
import { formatInstant, type Instant } from '../../core/shared/time.ts'
import { rowsOf, type Database, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { readClock } from './clock.ts'
import { customerOf, linesOf, send } from './counter.ts'
import { findShop } from './shops.ts'
import { subscriptions } from './tables.ts'
import { EVENT_WORDS } from '../../core/words/eventWords.ts'

/** Lets something happen that is no order: what was left behind, looked at, written, subscribed to. */
export async function happen(
  db: Database,
  shopId: string,
  happening: CounterHappening,
): Promise<void> {
  const customer = await customerOf(db, shopId, happening.customer)
  if (!('lines' in happening)) return happenTo(db, shopId, happening.kind, customer)
  const lines = await linesOf(db, shopId, happening.lines)
  const [first] = lines
  if (!first) throw new AppError('bad_input', 'Choose at least one product.')
  const customerId = customer.id
  const { productId, title, category, currency } = first
  switch (happening.kind) {
    case 'basket':
    case 'checkout': {
      const totalMinor = lines.reduce((sum, one) => sum + one.quantity * one.unitPriceMinor, 0)
      const id = `k-${randomUUID()}`
      const url = `https://shop.example/${happening.kind}/${id}`
      const cart = { id, customerId, currency, totalMinor, url, lines: lines.map(({ currency: _currency, ...line }) => line) } // prettier-ignore
      const type = happening.kind === 'basket' ? 'basket.item_added' : 'checkout.started'
      return send(db, shopId, type, { [happening.kind]: cart, customer })
    }
    case 'view':
      return send(db, shopId, 'product.viewed', { product: { customerId, productId, title, category }, customer }) // prettier-ignore
    case 'review': {
      const { stars, text } = happening
      const review = { id: `r-${randomUUID()}`, customerId, productId, title, category, stars, text } // prettier-ignore
      return send(db, shopId, 'review.submitted', { review, customer })
    }
    case 'subscription': {
      const { zone } = await findShop(db, shopId)
      const { now } = await readClock(db, shopId)
      const subscription = {
        id: `s-${randomUUID()}`,
        customerId,
        status: 'running',
        productId,
        title,
        category,
        amountMinor: first.unitPriceMinor,
        currency,
        interval: 'month',
        automatic: true,
        paymentMethod: 'card',
        startedAt: formatInstant(now),
        nextPaymentAt: formatInstant(addDuration(now, 'P1M', zone)),
      }
      return send(db, shopId, 'subscription.created', { subscription, customer })
    }
  }
}

type OfCustomer = Exclude<CounterHappening, { lines: unknown }>['kind']

/** Lets something happen that is about the customer alone. */
function happenTo(
  db: Database,
  shopId: string,
  kind: OfCustomer,
  customer: CustomerData,
): Promise<void> {
  const says = (given: boolean) => ({
    consent: { customerId: customer.id, channel: 'email', given, how: 'said at the counter' },
    customer,
  })
  switch (kind) {
    case 'signsUp':
      return send(db, shopId, 'customer.created', { customer })
    case 'detailsChange':
      return send(db, shopId, 'customer.changed', { customer })
    case 'saysYes':
      return send(db, shopId, 'consent.changed', says(true))
    case 'saysNo':
      return send(db, shopId, 'consent.changed', says(false))
  }
}

const subscriptionRow = z.object({
  id: z.string(),
  customer: z.string(),
  title: z.string(),
  status: subscriptionStatus,
  nextPaymentAt: z.number().nullable(),
})

/** The subscriptions in which something happened last, newest first. */
export async function counterSubscriptions(db: Db, shopId: string): Promise<CounterSubscription[]> {
  return rowsOf(
    db,
    subscriptionRow,
    sql`select s.id, coalesce(nullif(concat_ws(' ', c.first_name, c.last_name), ''), c.email, s.customer_id)
        as customer, s.title, s.status, s.next_payment_at as "nextPaymentAt"
    from subscriptions s left join customers c on c.shop_id = s.shop_id and c.id = s.customer_id
    where s.shop_id = ${shopId} order by s.as_of desc, s.id limit 15`,
  )
}

const CHANGES_TO: Partial<Record<SubscriptionAction, SubscriptionStatus>> = {
  paused: 'paused',
  running: 'running',
  cancelled: 'cancelled',
  ended: 'ended',
}

const KEEPS_STATUS: ReadonlySet<SubscriptionAction> = new Set(['payment_failed', 'sooner'])

/** Lets something happen to a subscription. Throws AppError `not_found`, or `conflict` where it has ended. */
export async function actOnSubscription(
  db: Database,
  shopId: string,
  id: string,
  action: SubscriptionAction,
): Promise<void> {
  const [row] = await db
    .select()
    .from(subscriptions)
    .where(and(eq(subscriptions.shopId, shopId), eq(subscriptions.id, id)))
  if (!row) throw new AppError('not_found', 'There is no such subscription.')
  const from = row.status
  if (from === 'ended') {
    throw new AppError(
      'conflict',
      `It is ${SUBSCRIPTION_STATUSES[from]}; nothing can happen to it.`,
    )
  }
  const { zone } = await findShop(db, shopId)
  const { now } = await readClock(db, shopId)
  const { shopId: _shop, asOf: _asOf, startedAt, nextPaymentAt, endsAt, trialEndsAt, ...rest } = row
  const at = (instant: Instant | null) => (instant === null ? null : formatInstant(instant))
  const status = CHANGES_TO[action] ?? (KEEPS_STATUS.has(action) ? from : 'running')
  const subscription = {
    ...rest,
    status,
    startedAt: at(startedAt),
    nextPaymentAt: at(nextPaymentAfter(action, nextPaymentAt, { now, zone })),
    endsAt: at(endsAt),
    trialEndsAt: at(trialEndsAt),
  }
  const type = action in CHANGES_TO ? 'status_changed' : action === 'sooner' ? 'changed' : action
  const change = type === 'status_changed' ? { from } : {}
  await send(db, shopId, `subscription.${type}`, { subscription, ...change })
}

/** A month after the last for what goes on; a week sooner for what is moved, but not before tomorrow. */
function nextPaymentAfter(
  action: SubscriptionAction,
  next: Instant | null,
  { now, zone }: { now: Instant; zone: string },
): Instant | null {
  if (action === 'renewed' || action === 'trial_ended') return addDuration(next ?? now, 'P1M', zone)
  if (action !== 'sooner' || next === null) return next
  return Math.max(next - 7 * DAY_MS, addDuration(now, 'P1D', zone))
}

const eventRow = z.object({
  seq: z.number(),
  type: z.enum(EVENT_TYPES),
  at: z.number(),
  customer: z.string(),
  orderNumber: z.string().nullable(),
  totalMinor: z.number().nullable(),
  currency: z.string().nullable(),
})

/** The events that came in last, whoever sent them, newest first. */
export async function lastEvents(db: Db, shopId: string): Promise<CounterEvent[]> {
  const { locale } = await findShop(db, shopId)
  const rows = await rowsOf(
    db,
    eventRow,
    sql`select e.seq, e.type, e.time as at,
      coalesce(nullif(concat_ws(' ', c.first_name, c.last_name), ''), c.email, e.customer_id) as customer,
      e.data->'order'->>'number' as "orderNumber",
      coalesce(e.data->'order'->>'totalMinor', e.data->'checkout'->>'totalMinor',
        e.data->'basket'->>'totalMinor')::bigint as "totalMinor",
      coalesce(e.data->'order'->>'currency', e.data->'checkout'->>'currency',
        e.data->'basket'->>'currency') as currency
    from events e left join customers c on c.shop_id = e.shop_id and c.id = e.customer_id
    where e.shop_id = ${shopId} order by e.seq desc limit 25`,
  )
  return rows.map(({ type, orderNumber, totalMinor, currency, ...row }) => ({
    ...row,
    what: EVENT_WORDS[type].label,
    about: [
      ...(orderNumber === null ? [] : [`order ${orderNumber}`]),
      ...(totalMinor === null || currency === null
        ? []
        : [formatMoney({ amountMinor: totalMinor, currency }, locale)]),
    ].join(', '),
  }))
}
