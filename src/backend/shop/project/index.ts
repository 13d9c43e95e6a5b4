import type { Db } from '../../platform/db.ts'
import { projectCarts } from './carts.ts'
import { projectConsent } from './consent.ts'
import { projectCustomers } from './customers.ts'
import { projectMessageEvents } from './messageEvents.ts'
import { projectOrders } from './orders.ts'
import { projectReviews, projectSubscriptions } from './subscriptions.ts'
import { projectViews } from './views.ts'
import type { TimedEvent } from './timedEvent.ts'

export type { TimedEvent } from './timedEvent.ts'

/**
 * Brings the shop's data up to the events: customers, orders with their lines, products, baskets,
 * checkouts, subscriptions, reviews, and what became of messages. An older state never overwrites a
 * newer one, in whatever order the events arrive.
 */
export async function projectEvents(db: Db, shopId: string, events: TimedEvent[]): Promise<void> {
  const oldestFirst = events.toSorted((a, b) => a.at - b.at)
  await projectCustomers(db, shopId, oldestFirst)
  await projectConsent(db, shopId, oldestFirst)
  await projectOrders(db, shopId, oldestFirst)
  await projectCarts(db, shopId, oldestFirst)
  await projectSubscriptions(db, shopId, oldestFirst)
  await projectReviews(db, shopId, oldestFirst)
  await projectViews(db, shopId, oldestFirst)
  await projectMessageEvents(db, shopId, oldestFirst)
}
