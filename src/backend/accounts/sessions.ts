import { and, eq, gt, sql } from 'drizzle-orm'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { hashToken, passwordMatches, randomToken } from './secrets.ts'
import { sessions, users } from './tables.ts'

const LIFETIME_MS = 14 * DAY_MS
const ROTATE_AFTER_MS = 12 * HOUR_MS

export interface SignedIn {
  shopId: string
  userId: string
  name: string
  email: string
  role: 'marketer' | 'staff'
}

export interface NewSession {
  token: string
  expiresAt: number
}

/** Checks an address and password and opens a session. Throws AppError `not_signed_in`. */
export async function signIn(db: Db, email: string, password: string): Promise<NewSession> {
  const [user] = await db.select().from(users).where(eq(users.email, email.toLowerCase()))
  const matches = await passwordMatches(password, user?.passwordHash ?? null)
  if (!user || !matches) {
    throw new AppError('not_signed_in', 'That address and password do not go together.')
  }
  return openSession(db, user.shopId, user.id)
}

async function openSession(db: Db, shopId: string, userId: string): Promise<NewSession> {
  const token = randomToken()
  const now = realNow()
  const expiresAt = now + LIFETIME_MS
  const rotateAt = now + ROTATE_AFTER_MS
  await db
    .insert(sessions)
    .values({ tokenHash: hashToken(token), shopId, userId, expiresAt, rotateAt })
  return { token, expiresAt }
}

/** Who a session token belongs to, and whether it is time to give it a new one; null if nobody. */
export async function findSession(
  db: Db,
  token: string,
): Promise<{ user: SignedIn; stale: boolean } | null> {
  const now = realNow()
  const [row] = await db
    .select({ session: sessions, user: users })
    .from(sessions)
    .innerJoin(users, and(eq(users.shopId, sessions.shopId), eq(users.id, sessions.userId)))
    .where(and(eq(sessions.tokenHash, hashToken(token)), gt(sessions.expiresAt, now)))
  if (!row) return null
  const { shopId, id, name, email, role } = row.user
  return { user: { shopId, userId: id, name, email, role }, stale: row.session.rotateAt <= now }
}

/**
 * Gives a session a new token. The old one works for another minute, since the browser may have
 * requests on their way. Null when somebody else has just done it.
 */
export async function rotateSession(db: Db, token: string): Promise<NewSession | null> {
  const now = realNow()
  const old = hashToken(token)
  const [row] = await db
    .update(sessions)
    .set({
      expiresAt: sql`least(${sessions.expiresAt}, ${now + 60_000})`,
      rotateAt: now + LIFETIME_MS,
    })
    .where(and(eq(sessions.tokenHash, old), sql`${sessions.rotateAt} <= ${now}`))
    .returning()
  return row ? openSession(db, row.shopId, row.userId) : null
}

/** Ends a session; its token is dead afterwards. */
export async function signOut(db: Db, token: string): Promise<void> {
  await db.delete(sessions).where(eq(sessions.tokenHash, hashToken(token)))
}
