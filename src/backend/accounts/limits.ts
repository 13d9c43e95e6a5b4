import { createHash } from 'node:crypto'
import { lt, sql } from 'drizzle-orm'
import { MINUTE_MS } from '../../core/shared/duration.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { signInTries } from './tables.ts'

const WINDOW_MS = 15 * MINUTE_MS
/** OWASP ASVS 4.0.3, 2.2.1, from memory: no more than a hundred failed tries an hour for one account. */
const MOST_PER_ACCOUNT = 20
/** A whole office may share an address. */
const MOST_PER_ADDRESS = 60

/** One try to sign in: as whom, and from where. */
export interface Try {
  email: string
  address: string
}

// What people type may be anything, a password even; so it is not kept as it is.
const digest = (kind: string, value: string): string =>
  `${kind}:${createHash('sha256').update(value).digest('hex')}`
const accountOf = ({ email }: Try): string => digest('account', email.toLowerCase())
const addressOf = ({ address }: Try): string => digest('address', address)

/**
 * Counts a try before it is looked at, so that many at once do not slip through together. Throws AppError
 * `too_many` when there have been too many for the account, or from the address.
 */
export async function countTry(db: Db, attempt: Try): Promise<void> {
  const now = realNow()
  const { rows } = await db.execute<{ who: string; tries: number; began_at: number }>(sql`
    insert into sign_in_tries as known (who, began_at, tries)
    values (${accountOf(attempt)}, ${now}, 1), (${addressOf(attempt)}, ${now}, 1)
    on conflict (who) do update set
      tries = case when known.began_at <= ${now - WINDOW_MS} then 1 else known.tries + 1 end,
      began_at = case when known.began_at <= ${now - WINDOW_MS} then ${now} else known.began_at end
    returning who, tries, began_at`)
  const over = rows.find(
    ({ who, tries }) => tries > (who === accountOf(attempt) ? MOST_PER_ACCOUNT : MOST_PER_ADDRESS),
  )
  if (!over) return
  const waitMs = over.began_at + WINDOW_MS - now
  throw new AppError(
    'too_many',
    `Too many tries to sign in. Try again in ${Math.ceil(waitMs / MINUTE_MS)} minutes.`,
    [],
    { retryAfterS: Math.ceil(waitMs / 1000) },
  )
}

/** Forgets the tries of somebody who got in: they were slips of the finger. */
export async function forgetTries(db: Db, attempt: Try): Promise<void> {
  await db.execute(sql`
    delete from sign_in_tries where who = ${accountOf(attempt)}`)
  await db.execute(sql`
    update sign_in_tries set tries = greatest(0, tries - 1) where who = ${addressOf(attempt)}`)
  await db.delete(signInTries).where(lt(signInTries.beganAt, realNow() - WINDOW_MS))
}
