import { randomUUID } from 'node:crypto'
import { and, asc, eq, ne, sql } from 'drizzle-orm'
import type { Role } from '../../contract/roles.ts'
import type { Database, Db, Transaction } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { confirmPassword } from './confirmPassword.ts'
import { isGuessable } from './guessable.ts'
import { forgetTries } from './limits.ts'
import { hashPassword, hashToken } from './secrets.ts'
import { accountLinks, sessions, users } from './tables.ts'

/** Somebody who works in a shop. */
export interface User {
  id: string
  email: string
  name: string
  role: Role
  /** Has not chosen a password yet. */
  isInvited: boolean
}

/** Who has no password yet: matches nothing that somebody could type. */
const NO_PASSWORD = ''

const byId = (shopId: string, id: string) => and(eq(users.shopId, shopId), eq(users.id, id))

/** Everybody who works in a shop, by name. */
export async function listUsers(db: Db, shopId: string): Promise<User[]> {
  const rows = await db.select().from(users).where(eq(users.shopId, shopId)).orderBy(asc(users.name))
  return rows.map(({ id, email, name, role, passwordHash }) => ({ id, email, name, role, isInvited: passwordHash === NO_PASSWORD }))
} // prettier-ignore

/** Makes an account without a password, which is chosen by a link. Throws AppError `conflict` where the address has one. */
export async function addUser(
  db: Db,
  shopId: string,
  { email, name, role }: Pick<User, 'email' | 'name' | 'role'>,
): Promise<User> {
  const row = { shopId, id: randomUUID(), email: email.toLowerCase(), name, role, passwordHash: NO_PASSWORD } // prettier-ignore
  const added = await db.insert(users).values(row).onConflictDoNothing().returning({ id: users.id })
  if (added.length === 0) {
    throw new AppError('conflict', 'There is an account with this address already.', [{ path: 'email', message: 'has an account' }]) // prettier-ignore
  }
  return { id: row.id, email: row.email, name, role, isInvited: true }
}

/** Gives somebody another role. Throws AppError `not_found`, or `conflict` for the last owner. */
export function changeRole(db: Database, shopId: string, id: string, role: Role): Promise<void> {
  return db.transaction(async (tx) => {
    if (role !== 'owner') await keepAnOwner(tx, shopId, id)
    const changed = await tx.update(users).set({ role }).where(byId(shopId, id)).returning({ id: users.id }) // prettier-ignore
    if (changed.length === 0) throw nobody()
  })
}

/** Ends somebody's account, and with it their sessions. Throws AppError `not_found`, or `conflict` for the last owner. */
export function removeUser(db: Database, shopId: string, id: string): Promise<void> {
  return db.transaction(async (tx) => {
    await keepAnOwner(tx, shopId, id)
    await tx.delete(sessions).where(and(eq(sessions.shopId, shopId), eq(sessions.userId, id)))
    await tx.delete(accountLinks).where(and(eq(accountLinks.shopId, shopId), eq(accountLinks.userId, id))) // prettier-ignore
    const gone = await tx.delete(users).where(byId(shopId, id)).returning({ id: users.id })
    if (gone.length === 0) throw nobody()
  })
}

const nobody = () => new AppError('not_found', 'There is no such account.')

/** Somebody has to be able to let others in. */
async function keepAnOwner(tx: Transaction, shopId: string, but: string): Promise<void> {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${`owners of ${shopId}`}, 0))`)
  const [other] = await tx
    .select({ id: users.id })
    .from(users)
    .where(and(eq(users.shopId, shopId), eq(users.role, 'owner'), ne(users.id, but)))
    .limit(1)
  if (!other)
    throw new AppError('conflict', 'This is the last owner. Make somebody else one first.')
}

/**
 * Changes the password of somebody who knows the present one; all their other sessions end. Throws AppError `bad_input` where it is
 * another, or where the new one will not do.
 */
export async function changePassword(
  db: Database,
  { shopId, userId, token }: { shopId: string; userId: string; token: string },
  { current, next }: { current: string; next: string },
): Promise<void> {
  const [user] = await db.select().from(users).where(byId(shopId, userId))
  if (!user) throw nobody()
  await confirmPassword(db, user, {
    password: current,
    path: 'current',
    refusal: 'The password was not changed.',
  })
  const passwordHash = await hashNew(next, user)
  await db.transaction(async (tx) => {
    await setHash(tx, user, passwordHash)
    await tx.execute(sql`delete from sessions where shop_id = ${shopId} and user_id = ${userId}
      and family <> coalesce((select family from sessions where token_hash = ${hashToken(token)}), '')`)
  })
}

/** Sets a password and ends whatever was open, the links included. */
export async function setPassword(
  db: Database,
  user: Pick<User, 'id' | 'email' | 'name'> & { shopId: string },
  next: string,
): Promise<void> {
  const passwordHash = await hashNew(next, user)
  await db.transaction(async (tx) => {
    await setHash(tx, user, passwordHash)
    await tx.delete(sessions).where(and(eq(sessions.shopId, user.shopId), eq(sessions.userId, user.id)))
    await forgetTries(tx, { email: user.email, address: '' })
  })
} // prettier-ignore

async function setHash(
  tx: Transaction,
  { shopId, id }: { shopId: string; id: string },
  passwordHash: string,
): Promise<void> {
  await tx.update(users).set({ passwordHash }).where(byId(shopId, id))
  await tx.delete(accountLinks).where(and(eq(accountLinks.shopId, shopId), eq(accountLinks.userId, id))) // prettier-ignore
}

/** Refuses what somebody would try first. The length is looked at where it is hashed. */
function hashNew(next: string, user: Pick<User, 'email' | 'name'>): Promise<string> {
  if (isGuessable(next, user)) {
    throw new AppError('bad_input', 'Choose another password.', [{ path: 'next', message: 'is what somebody would try first' }]) // prettier-ignore
  }
  return hashPassword(next)
}
