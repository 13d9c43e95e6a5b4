import { createHmac, randomBytes } from 'node:crypto'
import { and, eq, isNull, sql } from 'drizzle-orm'
import { customerIdOf } from '../../core/events/cloudEvent.ts'
import type { EventType } from '../../core/events/eventTypes.ts'
import type { Instant } from '../../core/shared/time.ts'
import { arrayOf, type Db } from '../platform/db.ts'
import type { TimedEvent } from './project/index.ts'
import { erasures, shops } from './tables.ts'

/** What somebody is known again by. */
interface Traces {
  id: string
  email?: string | null | undefined
  phone?: string | null | undefined
}

/** The key of a shop's digests; it is made with the first erasure. */
async function eraseKeyOf(db: Db, shopId: string): Promise<string> {
  await db
    .update(shops)
    .set({ erasureKey: randomBytes(32).toString('base64url') })
    .where(and(eq(shops.id, shopId), isNull(shops.erasureKey)))
  const [row] = await db.select({ key: shops.erasureKey }).from(shops).where(eq(shops.id, shopId))
  if (!row?.key) throw new RangeError(`There is no shop ${shopId}`)
  return row.key
}

function digestsOf(key: string, { id, email, phone }: Traces): string[] {
  const digest = (kind: string, value: string): string =>
    createHmac('sha256', key).update(`${kind} ${value}`).digest('base64url')
  return [
    digest('id', id),
    ...(email ? [digest('email', email.trim().toLowerCase())] : []),
    ...(phone ? [digest('phone', phone.replace(/\D/g, ''))] : []),
  ]
}

/** Remembers that somebody was erased, and nothing else of them. */
export async function rememberErased(
  db: Db,
  shopId: string,
  traces: Traces,
  { at, person }: { at: Instant; person: string },
): Promise<void> {
  const key = await eraseKeyOf(db, shopId)
  const rows = digestsOf(key, traces).map((digest) => ({ shopId, digest, erasedAt: at, person }))
  await db
    .insert(erasures)
    .values(rows)
    .onConflictDoUpdate({
      target: [erasures.shopId, erasures.digest],
      set: { erasedAt: at, person, returnedAt: null },
    })
}

/** By these somebody who was erased begins anew: they come back by themselves. */
const BEGINNINGS: ReadonlySet<EventType> = new Set([
  'order.placed',
  'basket.item_added',
  'checkout.started',
  'subscription.created',
])

/**
 * The events that are about people who were erased, and must not bring them back: all from before they were, and later ones
 * until they begin anew themselves. Nothing is asked of the database where nobody ever was.
 */
export async function aboutErased(
  db: Db,
  shopId: string,
  events: readonly TimedEvent[],
): Promise<Set<TimedEvent>> {
  const [shop] = await db.select({ key: shops.erasureKey }).from(shops).where(eq(shops.id, shopId))
  const key = shop?.key
  if (!key || events.length === 0) return new Set()
  const digests = new Map(events.map((timed) => [timed, digestsOf(key, tracesIn(timed))]))
  const asked = arrayOf([...new Set([...digests.values()].flat())], 'text')
  const rows = await db
    .select()
    .from(erasures)
    .where(and(eq(erasures.shopId, shopId), sql`${erasures.digest} = any(${asked})`))
  const known = new Map(rows.map((row) => [row.digest, row]))
  const returned = new Map<string, Instant>()
  const blocked = new Set<TimedEvent>()
  for (const timed of events.toSorted((a, b) => a.at - b.at)) {
    const own = digests.get(timed)?.flatMap((digest) => known.get(digest) ?? []) ?? []
    const isBlocked = own.some(({ digest, erasedAt, returnedAt }) => {
      const back = returned.get(digest) ?? returnedAt
      return timed.at <= erasedAt || (back === null && !BEGINNINGS.has(timed.event.type))
    })
    if (isBlocked) blocked.add(timed)
    else for (const { digest } of own) if (!returned.has(digest)) returned.set(digest, timed.at)
  }
  for (const [digest, at] of returned) {
    await db
      .update(erasures)
      .set({ returnedAt: at })
      .where(
        and(eq(erasures.shopId, shopId), eq(erasures.digest, digest), isNull(erasures.returnedAt)),
      )
  }
  return blocked
}

function tracesIn({ event: { data } }: TimedEvent): Traces {
  const { customer } = data
  return { id: customerIdOf(data), email: customer?.email, phone: customer?.phone }
} // prettier-ignore
