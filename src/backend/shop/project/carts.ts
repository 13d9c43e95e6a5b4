import { sql } from 'drizzle-orm'
import type { CartData } from '../../../core/events/entities.ts'
import type { Instant } from '../../../core/shared/time.ts'
import { recordsOf, type Db } from '../../platform/db.ts'
import { takeNewer } from './newer.ts'
import type { TimedEvent } from './timedEvent.ts'

interface CartState extends CartData {
  kind: 'basket' | 'checkout'
  startedAt: Instant
  asOf: Instant
}

/** Baskets and checkouts. */
export async function projectCarts(db: Db, shopId: string, events: TimedEvent[]): Promise<void> {
  const newest = new Map<string, CartState>()
  for (const { event, at } of events) {
    const { data } = event
    const found =
      'basket' in data
        ? { kind: 'basket' as const, cart: data.basket }
        : 'checkout' in data
          ? { kind: 'checkout' as const, cart: data.checkout }
          : null
    if (!found) continue
    const key = `${found.kind} ${found.cart.id}`
    const startedAt = newest.get(key)?.startedAt ?? at
    newest.set(key, { ...found.cart, kind: found.kind, startedAt, asOf: at })
  }
  if (newest.size === 0) return
  await db.execute(sql`
    insert into carts as known (shop_id, kind, id, customer_id, currency, total_minor, url, lines,
      started_at, as_of)
    select ${shopId}, c.kind, c.id, c."customerId", c.currency, c."totalMinor", c.url, c.lines,
      c."startedAt", c."asOf"
    from jsonb_to_recordset(${recordsOf([...newest.values()])}) as c(kind text, id text,
      "customerId" text, currency text, "totalMinor" bigint, url text, lines jsonb,
      "startedAt" bigint, "asOf" bigint)
    order by c.kind, c.id
    on conflict (shop_id, kind, id) do update set
      ${takeNewer(['currency', 'total_minor', 'url', 'lines'])},
      started_at = least(known.started_at, excluded.started_at)`)
}
