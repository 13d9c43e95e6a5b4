import { createHash, randomBytes, scrypt, timingSafeEqual } from 'node:crypto'
import pLimit from 'p-limit'
import { AppError } from '../platform/errors.ts'

/** OWASP Password Storage Cheat Sheet: scrypt with N=2^17, r=8, p=1. */
const COST = { N: 2 ** 17, r: 8, p: 1 }
const KEY_BYTES = 32
// Node refuses more than 32 MiB unless told; this cost needs 128 * N * r bytes.
const MAX_MEMORY = 256 * 1024 * 1024

const PASSWORD_MIN = 12
const PASSWORD_MAX = 128

/** Each takes a thread of the pool that files and name look-ups go through, too; it has four. */
const turns = pLimit(2)
/** So many may wait for their turn, which is about ten seconds. */
const MOST_WAITING = 40

/** Throws AppError `busy` when too many wait already. */
async function derive(password: string, salt: Buffer): Promise<Buffer> {
  if (turns.pendingCount >= MOST_WAITING) {
    throw new AppError(
      'busy',
      'Too many people sign in at this moment. Try again in a minute.',
      [],
      {
        retryAfterS: 60,
      },
    )
  }
  return turns(() => deriveNow(password, salt))
}

function deriveNow(password: string, salt: Buffer): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    scrypt(
      password.normalize('NFC'),
      salt,
      KEY_BYTES,
      { ...COST, maxmem: MAX_MEMORY },
      (error, key) => (error ? reject(error) : resolve(key)),
    )
  })
}

/** A password as it is stored: `scrypt$N$r$p$salt$key`. Throws RangeError for a bad length. */
export async function hashPassword(password: string): Promise<string> {
  if (password.length < PASSWORD_MIN || password.length > PASSWORD_MAX) {
    throw new RangeError(`A password has ${PASSWORD_MIN} to ${PASSWORD_MAX} characters`)
  }
  const salt = randomBytes(16)
  const key = await derive(password, salt)
  const { N, r, p } = COST
  return ['scrypt', N, r, p, salt.toString('base64'), key.toString('base64')].join('$')
}

/** True if the password is the stored one. Takes as long for an unknown account (`null`). */
export async function passwordMatches(password: string, stored: string | null): Promise<boolean> {
  const [, , , , salt = '', key = ''] = (stored ?? '').split('$')
  const wanted = Buffer.from(key, 'base64')
  const given = await derive(password.slice(0, PASSWORD_MAX), Buffer.from(salt, 'base64'))
  return wanted.length === given.length && timingSafeEqual(wanted, given)
}

/** A token nobody can guess: 256 random bits. */
export function randomToken(): string {
  return randomBytes(32).toString('base64url')
}

/** How tokens and keys are stored. They are random, so a plain hash is enough. */
export function hashToken(token: string): string {
  return createHash('sha256').update(token).digest('hex')
}
