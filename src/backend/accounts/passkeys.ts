import {
  generateAuthenticationOptions,
  generateRegistrationOptions,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
  type AuthenticationResponseJSON,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
  type RegistrationResponseJSON,
} from '@simplewebauthn/server'
import { and, asc, eq, gt, isNull, lt } from 'drizzle-orm'
import { isIP } from 'node:net'
import { MINUTE_MS } from '../../core/shared/duration.ts'
import type { Passkey } from '../../contract/passkeys.ts'
import type { Config } from '../platform/config.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { databaseTrouble } from '../platform/trouble.ts'
import { confirmPassword } from './confirmPassword.ts'
import { beginSession, type NewSession } from './sessions.ts'
import { accounts, passkeyChallenges, passkeys } from './tables.ts'
import { accountIn } from './users.ts'

/** As long as people take to find the device and to touch it. */
const ANSWER_MS = 5 * MINUTE_MS
const MOST = 20

/** Whose account it is, as seen from a shop. */
interface Own {
  shopId: string
  userId: string
}

/** The site that passkeys are made for. Throws AppError `not_ready` where it has no name: browsers make none for addresses of numbers. */
function siteOf(publicUrl: string): { rpID: string; origin: string } {
  const { hostname, origin } = new URL(publicUrl)
  if (isIP(hostname.replaceAll(/[[\]]/g, '')) !== 0) {
    throw new AppError('not_ready', 'Passkeys are made for a name, and this installation is reached at an address of numbers (PUBLIC_URL).') // prettier-ignore
  }
  return { rpID: hostname, origin }
}

/** Somebody’s passkeys, the oldest first. */
export function listPasskeys(db: Db, userId: string): Promise<Passkey[]> {
  const { id, name, createdAt, lastUsedAt } = passkeys
  return db
    .select({ id, name, createdAt, lastUsedAt })
    .from(passkeys)
    .where(eq(passkeys.accountId, userId))
    .orderBy(asc(passkeys.createdAt))
}

/**
 * What a device is asked to make a passkey from, for somebody who knows their password. Throws AppError `bad_input` for another,
 * `not_ready` where the installation has no name.
 */
export async function beginPasskey(
  db: Db,
  { shopId, userId }: Own,
  { password, publicUrl }: { password: string; publicUrl: string },
): Promise<PublicKeyCredentialCreationOptionsJSON> {
  const { rpID } = siteOf(publicUrl)
  const account = await accountIn(db, shopId, userId)
  await confirmPassword(db, account, { password, path: 'password', refusal: 'No passkey was made.' }) // prettier-ignore
  const known = await db
    .select({ id: passkeys.id })
    .from(passkeys)
    .where(eq(passkeys.accountId, userId))
  if (known.length >= MOST) throw new AppError('conflict', `You have ${MOST} passkeys. Remove one first.`) // prettier-ignore
  const options = await generateRegistrationOptions({
    rpName: 'Yomble',
    rpID,
    userName: account.email,
    userDisplayName: account.name,
    userID: new Uint8Array(Buffer.from(userId)),
    timeout: ANSWER_MS,
    attestationType: 'none',
    excludeCredentials: known,
    // It stands for a password and a second factor at once, so the device has to know its owner, and to find it by itself.
    authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
  })
  await keepChallenge(db, options.challenge, userId)
  return options
}

/** Keeps a passkey that a device has made. Throws AppError `bad_input` where it answers nothing that was asked of this account. */
export async function keepPasskey(
  db: Db,
  userId: string,
  { name, response, publicUrl }: { name: string; response: RegistrationResponseJSON; publicUrl: string },
): Promise<void> {
  const { rpID, origin } = siteOf(publicUrl)
  const refused = (cause?: unknown) => new AppError('bad_input', 'This passkey cannot be taken. Try once more.', [], { cause })
  const checked = await verifyRegistrationResponse({
    response,
    expectedChallenge: (challenge) => takeChallenge(db, challenge, userId),
    expectedOrigin: origin,
    expectedRPID: rpID,
    requireUserVerification: true,
  }).catch((error: unknown) => {
    throw databaseTrouble(error) ? error : refused(error)
  })
  if (!checked.verified) throw refused()
  const { id, publicKey, counter, transports = [] } = checked.registrationInfo.credential
  const row = {
    id,
    accountId: userId,
    name,
    publicKey: Buffer.from(publicKey).toString('base64url'),
    uses: counter,
    transports,
    createdAt: realNow(),
  }
  const kept = await db.insert(passkeys).values(row).onConflictDoNothing().returning({ id: passkeys.id }) // prettier-ignore
  if (kept.length === 0) throw refused()
} // prettier-ignore

/** Takes a passkey away from its account. Throws AppError `not_found`. */
export async function removePasskey(db: Db, userId: string, id: string): Promise<void> {
  const gone = await db
    .delete(passkeys)
    .where(and(eq(passkeys.accountId, userId), eq(passkeys.id, id)))
    .returning({ id: passkeys.id })
  if (gone.length === 0) throw new AppError('not_found', 'There is no such passkey.')
}

/** What whoever signs in has one of their passkeys sign. It names none of them: the device knows which it has. */
export async function askForPasskey(
  db: Db,
  publicUrl: string,
): Promise<PublicKeyCredentialRequestOptionsJSON> {
  const { rpID } = siteOf(publicUrl)
  const options = await generateAuthenticationOptions({ rpID, timeout: ANSWER_MS, userVerification: 'required' }) // prettier-ignore
  await keepChallenge(db, options.challenge, null)
  return options
}

/** Opens a session for who has signed with their passkey. Throws AppError `not_signed_in` where it is not known, or answers nothing that was asked. */
export async function signInByPasskey(
  db: Db,
  response: AuthenticationResponseJSON,
  { agent, publicUrl, config }: { agent: string; publicUrl: string; config: Config },
): Promise<NewSession> {
  const { rpID, origin } = siteOf(publicUrl)
  const [found] = await db
    .select({ passkey: passkeys, account: accounts })
    .from(passkeys)
    .innerJoin(accounts, eq(accounts.id, passkeys.accountId))
    .where(eq(passkeys.id, response.id))
  const refused = (cause?: unknown) => new AppError('not_signed_in', 'This passkey is not known here. It may have been removed; sign in with your password.', [], { cause }) // prettier-ignore
  if (!found) throw refused()
  const { passkey, account } = found
  const checked = await verifyAuthenticationResponse({
    response,
    expectedChallenge: (challenge) => takeChallenge(db, challenge, null),
    expectedOrigin: origin,
    expectedRPID: rpID,
    credential: {
      id: passkey.id,
      publicKey: new Uint8Array(Buffer.from(passkey.publicKey, 'base64url')),
      counter: passkey.uses,
      transports: passkey.transports,
    },
    requireUserVerification: true,
  }).catch((error: unknown) => {
    throw databaseTrouble(error) ? error : refused(error)
  })
  if (!checked.verified) throw refused()
  const uses = checked.authenticationInfo.newCounter
  await db.update(passkeys).set({ uses, lastUsedAt: realNow() }).where(eq(passkeys.id, passkey.id))
  return beginSession(db, account, { agent, isStrong: true, terms: config })
}

async function keepChallenge(db: Db, challenge: string, accountId: string | null): Promise<void> {
  const now = realNow()
  await db.delete(passkeyChallenges).where(lt(passkeyChallenges.expiresAt, now))
  await db.insert(passkeyChallenges).values({ challenge, accountId, expiresAt: now + ANSWER_MS })
}

/** Whether it was asked of this account, or of whoever signs in, and of late. It is used up by that. */
async function takeChallenge(
  db: Db,
  challenge: string,
  accountId: string | null,
): Promise<boolean> {
  const whose =
    accountId === null
      ? isNull(passkeyChallenges.accountId)
      : eq(passkeyChallenges.accountId, accountId)
  const taken = await db
    .delete(passkeyChallenges)
    .where(
      and(
        eq(passkeyChallenges.challenge, challenge),
        whose,
        gt(passkeyChallenges.expiresAt, realNow()),
      ),
    ) // prettier-ignore
    .returning({ challenge: passkeyChallenges.challenge })
  return taken.length > 0
}
