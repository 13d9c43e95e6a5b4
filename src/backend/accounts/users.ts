import { randomUUID } from 'node:crypto'
import { and, asc, eq, getTableColumns, ne, notExists, sql } from 'drizzle-orm'
import { z } from 'zod'
import type { Role } from '../../contract/roles.ts'
import { rowsOf, type Database, type Db, type Transaction } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { confirmPassword } from './confirmPassword.ts'
import { isGuessable } from './guessable.ts'
import { forgetTries } from './limits.ts'
import { hashPassword, hashToken } from './secrets.ts'
import { accountLinks, accounts, sessions, users } from './tables.ts'

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
const isInvited = { isInvited: sql<boolean>`${accounts.passwordHash} = ${NO_PASSWORD}` }

const byId = (shopId: string, id: string) => and(eq(users.shopId, shopId), eq(users.id, id))

/** Everybody who works in a shop, by name. */
export async function listUsers(db: Db, shopId: string): Promise<User[]> {
  return db
    .select({ id: users.id, email: accounts.email, name: users.name, role: users.role, ...isInvited })
    .from(users)
    .innerJoin(accounts, eq(accounts.id, users.id))
    .where(eq(users.shopId, shopId))
    .orderBy(asc(users.name))
} // prettier-ignore

/**
 * Lets somebody work in a shop: who has an account signs in as ever, anybody else gets one without a password, which is chosen by a
 * link. Throws AppError `conflict` where they work there already.
 */
export function addUser(
  db: Db,
  shopId: string,
  { email: typed, name, role }: Pick<User, 'email' | 'name' | 'role'>,
): Promise<User> {
  const email = typed.toLowerCase()
  return db.transaction(async (tx) => {
    await tx
      .insert(accounts)
      .values({ id: randomUUID(), email, passwordHash: NO_PASSWORD })
      .onConflictDoNothing()
    const [account] = await tx.select({ id: accounts.id, ...isInvited }).from(accounts).where(eq(accounts.email, email)) // prettier-ignore
    if (!account) throw new Error('An account that was just kept is not there')
    const row = { shopId, id: account.id, name, role }
    const added = await tx.insert(users).values(row).onConflictDoNothing().returning({ id: users.id }) // prettier-ignore
    if (added.length === 0) {
      throw new AppError('conflict', 'Somebody with this address works in the shop already.', [{ path: 'email', message: 'works here already' }]) // prettier-ignore
    }
    return { ...account, email, name, role }
  })
}

/** Keeps somebody with a password that is known already, as the demo and tests have them; their account is made, or made the same. */
export async function keepUser(
  db: Db,
  shopId: string,
  user: Pick<User, 'id' | 'email' | 'name' | 'role'> & { passwordHash: string },
): Promise<void> {
  const { id, email, name, role, passwordHash } = user
  const account = { email, passwordHash, secondFactor: null }
  await db
    .insert(accounts)
    .values({ id, ...account })
    .onConflictDoUpdate({ target: accounts.id, set: account })
  await db.insert(users).values({ shopId, id, name, role })
}

/** The shops that somebody works in, by name. */
export function shopsOf(db: Db, userId: string): Promise<{ id: string; name: string }[]> {
  return rowsOf(db, z.object({ id: z.string(), name: z.string() }), sql`
    select s.id, s.name from users u join shops s on s.id = u.shop_id where u.id = ${userId} order by s.name, s.id`) // prettier-ignore
}

/** Gives somebody another role. Throws AppError `not_found`, or `conflict` for the last owner. */
export function changeRole(db: Database, shopId: string, id: string, role: Role): Promise<void> {
  return db.transaction(async (tx) => {
    if (role !== 'owner') await keepAnOwner(tx, shopId, id)
    const changed = await tx.update(users).set({ role }).where(byId(shopId, id)).returning({ id: users.id }) // prettier-ignore
    if (changed.length === 0) throw nobody()
  })
}

/** Has somebody work in the shop no more; their sessions there end, and the account of who works in no other. Throws AppError `not_found`, or `conflict` for the last owner. */
export function removeUser(db: Database, shopId: string, id: string): Promise<void> {
  return db.transaction(async (tx) => {
    await keepAnOwner(tx, shopId, id)
    await tx.delete(sessions).where(and(eq(sessions.shopId, shopId), eq(sessions.userId, id)))
    await tx.delete(accountLinks).where(and(eq(accountLinks.shopId, shopId), eq(accountLinks.userId, id))) // prettier-ignore
    const gone = await tx.delete(users).where(byId(shopId, id)).returning({ id: users.id })
    if (gone.length === 0) throw nobody()
    const elsewhere = tx.select({ id: users.id }).from(users).where(eq(users.id, id))
    await tx.delete(accounts).where(and(eq(accounts.id, id), notExists(elsewhere)))
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
  const user = await accountIn(db, shopId, userId)
  await confirmPassword(db, user, {
    password: current,
    path: 'current',
    refusal: 'The password was not changed.',
  })
  const passwordHash = await hashNew(next, user)
  await db.transaction(async (tx) => {
    await setHash(tx, user, passwordHash)
    await tx.execute(sql`delete from sessions where user_id = ${userId}
      and family <> coalesce((select family from sessions where token_hash = ${hashToken(token)}), '')`)
  })
}

/** Sets a password and ends whatever was open, the links included. */
export async function setPassword(
  db: Db,
  user: Pick<User, 'id' | 'email' | 'name'>,
  next: string,
): Promise<void> {
  const passwordHash = await hashNew(next, user)
  await db.transaction(async (tx) => {
    await setHash(tx, user, passwordHash)
    await tx.delete(sessions).where(eq(sessions.userId, user.id))
    await forgetTries(tx, { email: user.email, address: '' })
  })
} // prettier-ignore

async function setHash(
  tx: Transaction,
  { id }: { id: string },
  passwordHash: string,
): Promise<void> {
  await tx.update(accounts).set({ passwordHash }).where(eq(accounts.id, id))
  await tx.delete(accountLinks).where(eq(accountLinks.userId, id))
}

/** Somebody who works in a shop, with what they sign in with. Throws AppError `not_found`. */
export async function accountIn(db: Db, shopId: string, id: string) {
  const [found] = await db
    .select({ ...getTableColumns(accounts), shopId: users.shopId, name: users.name })
    .from(users)
    .innerJoin(accounts, eq(accounts.id, users.id))
    .where(byId(shopId, id))
  if (!found) throw nobody()
  return found
}

/** Refuses what somebody would try first. The length is looked at where it is hashed. */
function hashNew(next: string, user: Pick<User, 'email' | 'name'>): Promise<string> {
  if (isGuessable(next, user)) {
    throw new AppError('bad_input', 'Choose another password.', [{ path: 'next', message: 'is what somebody would try first' }]) // prettier-ignore
  }
  return hashPassword(next)
}
