import { and, asc, eq, gt, lt } from 'drizzle-orm'
import { DAY_MS, HOUR_MS, MINUTE_MS } from '../../core/shared/duration.ts'
import type { Database, Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { hashToken, randomToken } from './secrets.ts'
import { accountLinks, accounts, users } from './tables.ts'
import { setPassword } from './users.ts'

export type LinkKind = 'invitation' | 'reset'

const LASTS_MS: Readonly<Record<LinkKind, number>> = { invitation: 7 * DAY_MS, reset: HOUR_MS }
/** Who asks again so soon gets no second mail. */
const AGAIN_AFTER_MS = 5 * MINUTE_MS

/** Makes a link by which somebody chooses a password. It works once; the token is in the answer and nowhere else. */
export async function makeLink(
  db: Db,
  { shopId, userId, kind }: { shopId: string; userId: string; kind: LinkKind },
): Promise<string> {
  const token = randomToken()
  const now = realNow()
  await db.delete(accountLinks).where(lt(accountLinks.expiresAt, now))
  await db.insert(accountLinks).values({ tokenHash: hashToken(token), shopId, userId, kind, createdAt: now, expiresAt: now + LASTS_MS[kind] }) // prettier-ignore
  return token
}

/** A link for somebody who has forgotten their password; null for an address nobody has, or one that was just sent one. */
export async function makeResetLink(
  db: Db,
  email: string,
): Promise<{ token: string; shopId: string; email: string } | null> {
  const [user] = await db
    .select({ shopId: users.shopId, id: users.id, email: accounts.email })
    .from(accounts)
    .innerJoin(users, eq(users.id, accounts.id))
    .where(eq(accounts.email, email.toLowerCase()))
    .orderBy(asc(users.shopId))
    .limit(1)
  if (!user) return null
  const [recent] = await db
    .select({ at: accountLinks.createdAt })
    .from(accountLinks)
    .where(and(eq(accountLinks.userId, user.id), gt(accountLinks.createdAt, realNow() - AGAIN_AFTER_MS)))
  if (recent) return null
  const token = await makeLink(db, { shopId: user.shopId, userId: user.id, kind: 'reset' })
  return { token, shopId: user.shopId, email: user.email }
} // prettier-ignore

/** For whom a link is. Throws AppError `not_found` for one that never was, was used, or has run out. */
export async function readLink(db: Db, token: string) {
  const [found] = await db
    .select({ kind: accountLinks.kind, shopId: users.shopId, id: users.id, email: accounts.email, name: users.name })
    .from(accountLinks)
    .innerJoin(users, and(eq(users.shopId, accountLinks.shopId), eq(users.id, accountLinks.userId)))
    .innerJoin(accounts, eq(accounts.id, users.id))
    .where(and(eq(accountLinks.tokenHash, hashToken(token)), gt(accountLinks.expiresAt, realNow())))
  if (!found) throw new AppError('not_found', 'This link was used, or is too old. Ask for a new one.')
  return found
} // prettier-ignore

/** Chooses a password by a link, which is used up by it. Returns whose it is. */
export async function choosePassword(
  db: Database,
  token: string,
  password: string,
): Promise<Awaited<ReturnType<typeof readLink>>> {
  const found = await readLink(db, token)
  await setPassword(db, found, password)
  return found
}
