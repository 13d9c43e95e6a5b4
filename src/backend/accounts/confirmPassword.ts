import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { countTry, forgetTries } from './limits.ts'
import { passwordMatches } from './secrets.ts'

/**
 * Has somebody who is signed in say their password once more: a browser that was left open is not yet they. Tries count as those
 * to sign in do. Throws AppError `bad_input` at a path where it is another, `too_many` after too many.
 */
export async function confirmPassword(
  db: Db,
  { email, passwordHash }: { email: string; passwordHash: string },
  { password, path, refusal }: { password: string; path: string; refusal: string },
): Promise<void> {
  const attempt = { email, address: `account of ${email}` }
  await countTry(db, attempt)
  if (!(await passwordMatches(password, passwordHash))) {
    throw new AppError('bad_input', refusal, [{ path, message: 'That is not your password.' }])
  }
  await forgetTries(db, attempt)
}
