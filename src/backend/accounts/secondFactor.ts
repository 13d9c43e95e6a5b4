import { randomInt } from 'node:crypto'
import { and, eq, isNull } from 'drizzle-orm'
import { Secret, TOTP } from 'otpauth'
import type { Database, Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { openText, sealText } from '../platform/sealedText.ts'
import { confirmPassword } from './confirmPassword.ts'
import { hashToken } from './secrets.ts'
import { accounts, type SecondFactor } from './tables.ts'
import { accountIn } from './users.ts'

type AccountRow = typeof accounts.$inferSelect
/** With what secrets are sealed; that of a former time is read, too. */
type Secrets = readonly [string, ...string[]]
const USE = 'second factor'

const PERIOD_S = 30
const RECOVERY_CODES = 10
/** Without signs that look alike. */
const ALPHABET = 'abcdefghjkmnpqrstuvwxyz23456789'

/** Time-based one-time passwords as every authenticator has them: SHA-1, six digits, 30 seconds (RFC 6238). */
function totpOf(secret: string, label: string): TOTP {
  return new TOTP({ issuer: 'Yomble', label, secret: Secret.fromBase32(secret), algorithm: 'SHA1', digits: 6, period: PERIOD_S }) // prettier-ignore
}

/** A secret for a device to be set up with. It counts once a code of it was given. */
export function newSecret(label: string): { secret: string; uri: string } {
  const secret = new Secret({ size: 20 }).base32
  return { secret, uri: totpOf(secret, label).toString() }
}

/**
 * Turns the second factor on, by a code of a device that has the secret. Returns the codes for when it is lost, shown this once.
 * Throws AppError `conflict` where it is on already: another device would take the place of the first without a word.
 */
export async function turnOn(
  db: Db,
  { userId, secrets }: { userId: string; secrets: Secrets },
  { secret, code }: { secret: string; code: string },
): Promise<string[]> {
  const usedStep = stepOf(secret, code)
  if (usedStep === null) throw wrongCode()
  const codes = Array.from({ length: RECOVERY_CODES }, newRecoveryCode)
  const secondFactor = {
    secret: sealText(secrets[0], USE, secret),
    usedStep,
    recovery: codes.map(hashToken),
  }
  const turned = await db
    .update(accounts)
    .set({ secondFactor })
    .where(and(eq(accounts.id, userId), isNull(accounts.secondFactor)))
    .returning({ id: accounts.id })
  if (turned.length === 0) throw new AppError('conflict', 'It is on already. Turn it off first.')
  return codes
}

/** Turns it off, for who knows the password. Throws AppError `bad_input` for another. */
export async function turnOff(
  db: Db,
  { shopId, userId }: { shopId: string; userId: string },
  password: string,
): Promise<void> {
  const user = await accountIn(db, shopId, userId)
  await confirmPassword(db, user, { password, path: 'password', refusal: 'It stays on.' })
  await dropSecondFactor(db, userId)
}

/** Turns it off for somebody whose device and codes are lost. */
export async function dropSecondFactor(db: Db, userId: string): Promise<void> {
  await db.update(accounts).set({ secondFactor: null }).where(eq(accounts.id, userId))
}

/**
 * Asks for the second factor of somebody whose password was right. A code is taken once; one for a lost device is used up. Throws
 * AppError `not_signed_in` where it is missing or wrong, and says at `code` which.
 */
export function askSecondFactor(
  db: Database | Db,
  { id, secondFactor }: Pick<AccountRow, 'id' | 'secondFactor'>,
  { code, secrets }: { code: string | undefined; secrets: Secrets },
): Promise<void> {
  if (secondFactor === null) return Promise.resolve()
  if (code === undefined || code === '') {
    throw new AppError('not_signed_in', 'Enter the code that your device shows.', [{ path: 'code', message: 'is missing' }]) // prettier-ignore
  }
  return db.transaction(async (tx) => {
    const [locked] = await tx.select().from(accounts).where(eq(accounts.id, id)).for('update')
    const next =
      locked?.secondFactor && withCode(locked.secondFactor, secrets, code.replaceAll(/\s/g, ''))
    if (!next) throw wrongCode('not_signed_in')
    await tx.update(accounts).set({ secondFactor: next }).where(eq(accounts.id, id))
  })
}

/** As secrets were kept once: not sealed. */
const PLAIN = /^[A-Z2-7]+$/

/** What is kept once a code was taken; null for one that is wrong, or was taken before. */
function withCode(kept: SecondFactor, secrets: Secrets, code: string): SecondFactor | null {
  const secret = PLAIN.test(kept.secret) ? kept.secret : openText(secrets, USE, kept.secret)
  const step = secret === null ? null : stepOf(secret, code)
  // Sealed anew, for the secret of today.
  if (secret !== null && step !== null) return step > kept.usedStep ? { ...kept, secret: sealText(secrets[0], USE, secret), usedStep: step } : null // prettier-ignore
  const digest = hashToken(code.toLowerCase())
  if (!kept.recovery.includes(digest)) return null
  return { ...kept, recovery: kept.recovery.filter((one) => one !== digest) }
}

/** The time step of a code, one before or after included, for clocks that are not quite right; null for none of them. */
function stepOf(secret: string, code: string): number | null {
  if (!/^\d{6}$/.test(code)) return null
  const timestamp = realNow()
  const off = totpOf(secret, '').validate({ token: code, timestamp, window: 1 })
  return off === null ? null : Math.floor(timestamp / 1000 / PERIOD_S) + off
}

const wrongCode = (code: 'bad_input' | 'not_signed_in' = 'bad_input') =>
  new AppError(code, 'This code is not right. Each is taken once, and for a minute.', [{ path: 'code', message: 'is not right' }]) // prettier-ignore

/** Ten signs of 31: 49 bits, and few tries. */
const newRecoveryCode = (): string =>
  Array.from({ length: 10 }, () => ALPHABET.charAt(randomInt(ALPHABET.length))).join('')
