import { and, eq, gt, inArray, sql } from 'drizzle-orm'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { countTry, forgetTries, type Try } from './limits.ts'
import { hashToken, passwordMatches, randomToken } from './secrets.ts'
import { sessions, users } from './tables.ts'

const LIFETIME_MS = 14 * DAY_MS
/** After so long people sign in anew, however often they come. */
const LONGEST_MS = 30 * DAY_MS
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

/**
 * Checks an email address and password and opens a session. Throws AppError `not_signed_in`, or `too_many`
 * when there have been too many tries for that account or from that network address.
 */
export async function signIn(
  db: Db,
  { email, password, address }: Try & { password: string },
): Promise<NewSession> {
  await countTry(db, { email, address })
  const [user] = await db.select().from(users).where(eq(users.email, email.toLowerCase()))
  const matches = await passwordMatches(password, user?.passwordHash ?? null)
  if (!user || !matches) {
    throw new AppError('not_signed_in', 'That address and password do not go together.')
  }
  await forgetTries(db, { email, address })
  return openSession(db, { ...user, userId: user.id, family: randomToken(), startedAt: realNow() })
}

type Begun = Pick<typeof sessions.$inferSelect, 'shopId' | 'userId' | 'family' | 'startedAt'>

async function openSession(
  db: Db,
  { shopId, userId, family, startedAt }: Begun,
): Promise<NewSession> {
  const token = randomToken()
  const now = realNow()
  const expiresAt = Math.min(now + LIFETIME_MS, startedAt + LONGEST_MS)
  const rotateAt = now + ROTATE_AFTER_MS
  await db
    .insert(sessions)
    .values({ tokenHash: hashToken(token), shopId, userId, family, startedAt, expiresAt, rotateAt })
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
  return row ? openSession(db, row) : null
}

/** Ends a session; all tokens it has had are dead afterwards, also one that was given out just now. */
export async function signOut(db: Db, token: string): Promise<void> {
  const own = db
    .select({ family: sessions.family })
    .from(sessions)
    .where(eq(sessions.tokenHash, hashToken(token)))
  await db.delete(sessions).where(inArray(sessions.family, own))
}
