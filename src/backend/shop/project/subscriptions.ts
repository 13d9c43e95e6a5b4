import { sql } from 'drizzle-orm'
import { parseInstant } from '../../../core/shared/time.ts'
import { recordsOf, type Db } from '../../platform/db.ts'
import { takeNewer } from './newer.ts'
import type { TimedEvent } from './timedEvent.ts'

const instantOf = (text: string | null | undefined): number | null =>
  text === null || text === undefined ? null : parseInstant(text)

const SUBSCRIPTION_COLUMNS = [
  'status', 'product_id', 'title', 'category', 'amount_minor', 'currency', 'interval',
  'automatic', 'payment_method', 'started_at', 'next_payment_at', 'ends_at', 'trial_ends_at', 'url',
] // prettier-ignore

/** Subscriptions, each as the newest event about it says. */
export async function projectSubscriptions(
  db: Db,
  shopId: string,
  events: TimedEvent[],
): Promise<void> {
  const newest = new Map<string, object>()
  for (const { event, at } of events) {
    if (!('subscription' in event.data)) continue
    const { subscription } = event.data
    newest.set(subscription.id, {
      ...subscription,
      startedAt: instantOf(subscription.startedAt),
      nextPaymentAt: instantOf(subscription.nextPaymentAt),
      endsAt: instantOf(subscription.endsAt),
      trialEndsAt: instantOf(subscription.trialEndsAt),
      asOf: at,
    })
  }
  if (newest.size === 0) return
  await db.execute(sql`
    insert into subscriptions as known (shop_id, id, customer_id, status, product_id, title,
      category, amount_minor, currency, interval, automatic, payment_method, started_at,
      next_payment_at, ends_at, trial_ends_at, url, as_of)
    select ${shopId}, s.id, s."customerId", s.status, s."productId", s.title, s.category,
      s."amountMinor", s.currency, s.interval, s.automatic, s."paymentMethod", s."startedAt",
      s."nextPaymentAt", s."endsAt", s."trialEndsAt", s.url, s."asOf"
    from jsonb_to_recordset(${recordsOf([...newest.values()])}) as s(id text, "customerId" text,
      status text, "productId" text, title text, category text, "amountMinor" bigint,
      currency text, interval text, automatic boolean, "paymentMethod" text, "startedAt" bigint,
      "nextPaymentAt" bigint, "endsAt" bigint, "trialEndsAt" bigint, url text, "asOf" bigint)
    order by s.id
    on conflict (shop_id, id) do update set ${takeNewer(SUBSCRIPTION_COLUMNS)}`)
}

const REVIEW_COLUMNS = [
  'stars', 'text', 'order_id', 'product_id', 'title', 'category',
] // prettier-ignore

/** Reviews, each as the newest event about it says. */
export async function projectReviews(db: Db, shopId: string, events: TimedEvent[]): Promise<void> {
  const newest = new Map<string, object>()
  for (const { event, at } of events) {
    if ('review' in event.data) {
      newest.set(event.data.review.id, { ...event.data.review, asOf: at })
    }
  }
  if (newest.size === 0) return
  await db.execute(sql`
    insert into reviews as known (shop_id, id, customer_id, order_id, product_id, title, category,
      stars, text, as_of)
    select ${shopId}, r.id, r."customerId", r."orderId", r."productId", r.title, r.category,
      r.stars, r.text, r."asOf"
    from jsonb_to_recordset(${recordsOf([...newest.values()])}) as r(id text, "customerId" text,
      "orderId" text, "productId" text, title text, category text, stars int, text text,
      "asOf" bigint)
    order by r.id
    on conflict (shop_id, id) do update set ${takeNewer(REVIEW_COLUMNS)}`)
}
