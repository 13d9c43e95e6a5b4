import { and, asc, desc, eq, inArray, sql } from 'drizzle-orm'
import type { Instant } from '../../core/shared/time.ts'
import { hashToken, randomToken } from '../accounts/index.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { readClock } from '../shop/index.ts'
import { connectionBodies, connections, type BodyOutcome } from './tables.ts'

export type Connection = typeof connections.$inferSelect
export type KeptBody = Omit<typeof connectionBodies.$inferSelect, 'shopId' | 'connectionId'>

/** So many bodies are kept, and until they are older than the shop's term. */
const MOST_KEPT = 10_000

const byId = (shopId: string, id: string) =>
  and(eq(connections.shopId, shopId), eq(connections.id, id))

/** Makes a connection. The secret part of its address is in the answer and nowhere else. */
export async function addConnection(
  db: Db,
  shopId: string,
  name: string,
): Promise<{ id: string; token: string }> {
  const { now } = await readClock(db, shopId)
  const id = randomToken().slice(0, 12)
  const token = randomToken()
  await db.insert(connections).values({ shopId, id, name, tokenHash: hashToken(token), createdAt: now }) // prettier-ignore
  return { id, token }
}

/** Gives a connection a new address; the one before leads nowhere. Throws AppError `not_found`. */
export async function newAddress(db: Db, shopId: string, id: string): Promise<string> {
  const token = randomToken()
  await changeConnection(db, shopId, id, { tokenHash: hashToken(token) })
  return token
}

/** Changes what is said of a connection. Throws AppError `not_found`. */
export async function changeConnection(
  db: Db,
  shopId: string,
  id: string,
  to: Partial<
    Pick<
      Connection,
      'name' | 'mapping' | 'signature' | 'isOn' | 'tokenHash' | 'pull' | 'nextPullAt' | 'pullState'
    >
  >,
): Promise<void> {
  // Nothing to change is no change, and no statement either.
  if (Object.keys(to).length === 0) return void (await findConnection(db, shopId, id))
  const changed = await db.update(connections).set(to).where(byId(shopId, id)).returning({ id: connections.id }) // prettier-ignore
  if (changed.length === 0) throw new AppError('not_found', 'There is no such connection.')
}

/** Takes a connection away with what came by it; its events stay. Throws AppError `not_found`. */
export async function removeConnection(db: Db, shopId: string, id: string): Promise<void> {
  const gone = await db.delete(connections).where(byId(shopId, id)).returning({ id: connections.id }) // prettier-ignore
  if (gone.length === 0) throw new AppError('not_found', 'There is no such connection.')
  await db
    .delete(connectionBodies)
    .where(and(eq(connectionBodies.shopId, shopId), eq(connectionBodies.connectionId, id)))
}

export function listConnections(db: Db, shopId: string): Promise<Connection[]> {
  return db.select().from(connections).where(eq(connections.shopId, shopId)).orderBy(asc(connections.name)) // prettier-ignore
}

/** One connection. Throws AppError `not_found`. */
export async function findConnection(db: Db, shopId: string, id: string): Promise<Connection> {
  const [found] = await db.select().from(connections).where(byId(shopId, id))
  if (!found) throw new AppError('not_found', 'There is no such connection.')
  return found
}

/** The connection whose address has this secret part; undefined for one that leads nowhere. */
export async function connectionAt(db: Db, token: string): Promise<Connection | undefined> {
  const [found] = await db.select().from(connections).where(eq(connections.tokenHash, hashToken(token))) // prettier-ignore
  return found
}

/** Keeps a body as it came; what is too old, or too much, goes. */
export async function keepBody(
  db: Db,
  { shopId, id: connectionId }: Pick<Connection, 'shopId' | 'id'>,
  kept: { body: string; state: KeptBody['state']; outcome: BodyOutcome },
): Promise<number> {
  const { now } = await readClock(db, shopId)
  const [row] = await db
    .insert(connectionBodies)
    .values({ shopId, connectionId, receivedAt: now, ...kept })
    .returning({ id: connectionBodies.id })
  if (!row) throw new RangeError('The body was not kept')
  const own = and(eq(connectionBodies.shopId, shopId), eq(connectionBodies.connectionId, connectionId)) // prettier-ignore
  const tooMany = sql`(select id from connection_bodies where shop_id = ${shopId}
    and connection_id = ${connectionId} order by id desc offset ${MOST_KEPT} limit 1)`
  await db.delete(connectionBodies).where(and(own, sql`${connectionBodies.id} <= ${tooMany}`))
  return row.id
}

/** What came by a connection last, the newest first. */
export function lastBodies(
  db: Db,
  shopId: string,
  connectionId: string,
  most: number,
): Promise<KeptBody[]> {
  return db
    .select()
    .from(connectionBodies)
    .where(and(eq(connectionBodies.shopId, shopId), eq(connectionBodies.connectionId, connectionId)))
    .orderBy(desc(connectionBodies.id))
    .limit(most)
} // prettier-ignore

/** Bodies of a connection that were refused, the oldest first. */
export function refusedBodies(db: Db, shopId: string, connectionId: string): Promise<KeptBody[]> {
  return db
    .select()
    .from(connectionBodies)
    .where(and(eq(connectionBodies.shopId, shopId), eq(connectionBodies.connectionId, connectionId), eq(connectionBodies.state, 'refused')))
    .orderBy(asc(connectionBodies.id))
} // prettier-ignore

/** Notes what came of a body once more. */
export async function noteOutcome(
  db: Db,
  shopId: string,
  id: number,
  { state, outcome }: { state: KeptBody['state']; outcome: BodyOutcome },
): Promise<void> {
  await db.update(connectionBodies).set({ state, outcome }).where(and(eq(connectionBodies.shopId, shopId), inArray(connectionBodies.id, [id]))) // prettier-ignore
}

/** Removes bodies that came before a moment, so many at most. Returns how many. */
export async function forgetBodies(
  db: Db,
  shopId: string,
  before: Instant,
  most: number,
): Promise<number> {
  const gone = await db.execute(sql`delete from connection_bodies b using (
      select connection_id, id from connection_bodies where shop_id = ${shopId} and received_at < ${before} limit ${most}) old
    where b.shop_id = ${shopId} and b.connection_id = old.connection_id and b.id = old.id`)
  return gone.rowCount ?? 0
}
