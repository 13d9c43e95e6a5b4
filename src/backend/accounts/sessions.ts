import { and, desc, eq, gt, inArray, sql } from 'drizzle-orm'
import type { Role } from '../../contract/roles.ts'
import { HOUR_MS } from '../../core/shared/duration.ts'
import { linkSecretsOf, type Config } from '../platform/config.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { askSecondFactor } from './secondFactor.ts'
import { countTry, forgetTries, type Try } from './limits.ts'
import { hashToken, passwordMatches, randomToken } from './secrets.ts'
import { shopsOf } from './users.ts'
import { accounts, sessions, users } from './tables.ts'

const ROTATE_AFTER_MS = 12 * HOUR_MS
/** A token is renewed so many times within the hours after which it dies: nobody who is at work is signed out. */
const RENEWALS = 4
/** How long what was renewed goes on working, since the browser may have requests on their way. */
const OVERLAP_MS = 60_000

/** How long sessions last. */
type Terms = Pick<Config, 'SESSION_IDLE_HOURS' | 'SESSION_LONGEST_HOURS'>

type AccountRow = typeof accounts.$inferSelect

export interface SignedIn {
  shopId: string
  userId: string
  name: string
  email: string
  role: Role
  hasSecondFactor: boolean
  /** It took more than a password to sign in: a code of a device, or a passkey. */
  isStrong: boolean
  /** What only owners may do takes more in this shop than they have shown. */
  lacksStrength: boolean
}

export interface NewSession {
  token: string
  expiresAt: number
}

/** Who wants to sign in. */
interface SigningIn extends Try {
  password: string
  agent?: string
  code?: string | undefined
  config: Config
}

/**
 * Checks an email address and password, and the second factor where there is one, and opens a session. Throws AppError `not_signed_in`, or `too_many`
 * when there have been too many tries for that account or from that network address.
 */
export async function signIn(
  db: Db,
  { email, password, address, agent = '', code, config }: SigningIn,
): Promise<NewSession> {
  await countTry(db, { email, address })
  const [account] = await db.select().from(accounts).where(eq(accounts.email, email.toLowerCase()))
  const matches = await passwordMatches(password, account?.passwordHash ?? null)
  if (!account || !matches) throw noMatch()
  await askSecondFactor(db, account, { code, secrets: linkSecretsOf(config) })
  const isStrong = account.secondFactor !== null
  const session = await beginSession(db, account, { agent, isStrong, terms: config })
  await forgetTries(db, { email, address })
  return session
}

const noMatch = () => new AppError('not_signed_in', 'That address and password do not go together.')

/** Opens a session of somebody who has shown who they are. Throws AppError `not_signed_in` where they work in no shop. */
export async function beginSession(
  db: Db,
  account: AccountRow,
  { agent, isStrong, terms }: { agent: string; isStrong: boolean; terms: Terms },
): Promise<NewSession> {
  const shopId = await shopToOpen(db, account)
  if (shopId === undefined) throw noMatch()
  const begun = { shopId, userId: account.id, family: randomToken(), startedAt: realNow(), agent, isStrong } // prettier-ignore
  return openSession(db, begun, terms)
}

/** The shop that somebody works in now: the one they were in last, or else the first; undefined where there is none. */
async function shopToOpen(
  db: Db,
  { id: userId, lastShopId }: AccountRow,
): Promise<string | undefined> {
  const shops = await shopsOf(db, userId)
  return (shops.find(({ id }) => id === lastShopId) ?? shops[0])?.id
}

/** Goes to another shop with the session of a token. Throws AppError `not_found` where they do not work there. */
export async function switchShop(
  db: Db,
  { userId, token }: { userId: string; token: string },
  shopId: string,
): Promise<void> {
  const found = (await shopsOf(db, userId)).some(({ id }) => id === shopId)
  if (!found) throw new AppError('not_found', 'You do not work in that shop.')
  const own = db.select({ family: sessions.family }).from(sessions).where(eq(sessions.tokenHash, hashToken(token))) // prettier-ignore
  await db.update(sessions).set({ shopId }).where(inArray(sessions.family, own))
  await db.update(accounts).set({ lastShopId: shopId }).where(eq(accounts.id, userId))
}

type Begun = Pick<
  typeof sessions.$inferSelect,
  'shopId' | 'userId' | 'family' | 'startedAt' | 'agent' | 'isStrong'
>

async function openSession(
  db: Db,
  { shopId, userId, family, startedAt, agent, isStrong }: Begun,
  terms: Terms,
): Promise<NewSession> {
  const token = randomToken()
  const now = realNow()
  const idleMs = terms.SESSION_IDLE_HOURS * HOUR_MS
  const expiresAt = Math.round(
    Math.min(now + idleMs, startedAt + terms.SESSION_LONGEST_HOURS * HOUR_MS),
  )
  const rotateAt = Math.round(now + Math.min(ROTATE_AFTER_MS, idleMs / RENEWALS))
  await db.insert(sessions).values({
    tokenHash: hashToken(token),
    shopId,
    userId,
    family,
    startedAt,
    agent: agent.slice(0, 300),
    isStrong,
    expiresAt,
    rotateAt,
  })
  return { token, expiresAt }
}

/** Who a session token belongs to, and whether it is time to give it a new one; null if nobody. */
export async function findSession(
  db: Db,
  token: string,
): Promise<{ user: SignedIn; stale: boolean } | null> {
  const now = realNow()
  const [row] = await db
    .select({
      session: sessions,
      user: users,
      account: accounts,
      strongOwners: sql<boolean>`(select strong_owners from shops where id = ${sessions.shopId})`,
    })
    .from(sessions)
    .innerJoin(users, and(eq(users.shopId, sessions.shopId), eq(users.id, sessions.userId)))
    .innerJoin(accounts, eq(accounts.id, users.id))
    .where(and(eq(sessions.tokenHash, hashToken(token)), gt(sessions.expiresAt, now)))
  if (!row) return null
  const { shopId, id, name, role } = row.user
  const { email, secondFactor } = row.account
  const hasSecondFactor = secondFactor !== null
  const { isStrong } = row.session
  const lacksStrength = row.strongOwners && !isStrong
  return {
    user: { shopId, userId: id, name, email, role, hasSecondFactor, isStrong, lacksStrength },
    stale: row.session.rotateAt <= now,
  }
}

/**
 * Gives a session a new token; the old one works for a little longer. Null when somebody else has just done it.
 */
export async function rotateSession(
  db: Db,
  token: string,
  terms: Terms,
): Promise<NewSession | null> {
  const now = realNow()
  const old = hashToken(token)
  const [row] = await db
    .update(sessions)
    .set({
      expiresAt: sql`least(${sessions.expiresAt}, ${now + OVERLAP_MS})`,
      rotateAt: now + 2 * OVERLAP_MS,
    })
    .where(and(eq(sessions.tokenHash, old), sql`${sessions.rotateAt} <= ${now}`))
    .returning()
  return row ? openSession(db, row, terms) : null
}

/** From here on the session counts as one that took more than a password. */
export async function strengthen(db: Db, token: string): Promise<void> {
  const own = db
    .select({ family: sessions.family })
    .from(sessions)
    .where(eq(sessions.tokenHash, hashToken(token)))
  await db.update(sessions).set({ isStrong: true }).where(inArray(sessions.family, own))
}

/** Ends a session; all tokens it has had are dead afterwards, also one that was given out just now. */
export async function signOut(db: Db, token: string): Promise<void> {
  const own = db
    .select({ family: sessions.family })
    .from(sessions)
    .where(eq(sessions.tokenHash, hashToken(token)))
  await db.delete(sessions).where(inArray(sessions.family, own))
}

/** Where somebody is signed in. */
export interface OpenSession {
  /** Names it; it opens nothing. */
  id: string
  startedAt: number
  agent: string
  isThis: boolean
}

/** Where somebody is signed in, the newest first; `token` is that of whoever asks. */
export async function listSessions(
  db: Db,
  { userId, token }: { userId: string; token: string },
): Promise<OpenSession[]> {
  const rows = await db
    .select({
      family: sessions.family,
      startedAt: sessions.startedAt,
      agent: sessions.agent,
      isThis: sql<boolean>`bool_or(${sessions.tokenHash} = ${hashToken(token)})`,
    })
    .from(sessions)
    .where(and(eq(sessions.userId, userId), gt(sessions.expiresAt, realNow())))
    .groupBy(sessions.family, sessions.startedAt, sessions.agent)
    .orderBy(desc(sessions.startedAt))
  return rows.map(({ family, ...row }) => ({ ...row, id: hashToken(family).slice(0, 24) }))
}

/** Ends one session of somebody, or all but the one that asks. Throws AppError `not_found` where there is no such one. */
export async function endSessions(
  db: Db,
  { userId, token }: { userId: string; token: string },
  which: { id: string } | 'others',
): Promise<void> {
  const rows = await db
    .select({ family: sessions.family, tokenHash: sessions.tokenHash })
    .from(sessions)
    .where(eq(sessions.userId, userId))
  const own = rows.find(({ tokenHash }) => tokenHash === hashToken(token))?.family
  const ended = rows.filter(({ family }) =>
    which === 'others' ? family !== own : hashToken(family).slice(0, 24) === which.id,
  )
  if (ended.length === 0 && which !== 'others') {
    throw new AppError('not_found', 'That session has ended already.')
  }
  if (ended.length === 0) return
  await db.delete(sessions).where(
    inArray(
      sessions.family,
      ended.map(({ family }) => family),
    ),
  )
}
