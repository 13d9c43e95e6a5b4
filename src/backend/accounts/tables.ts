import {
  boolean,
  foreignKey,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import { ROLES } from '../../contract/roles.ts'
import type { KeyScope } from '../../contract/scopes.ts'
import { instant, shopId } from '../platform/columns.ts'

/** What is kept of a second factor: its secret, sealed; the time step of the code that was used last, and digests of codes for when the device is lost. */
export interface SecondFactor {
  secret: string
  usedStep: number
  recovery: string[]
}

/** With what somebody signs in, whatever shops they work in. */
export const accounts = pgTable(
  'accounts',
  {
    id: text('id').primaryKey(),
    /** In lower case. */
    email: text('email').notNull(),
    /** Empty until one was chosen. */
    passwordHash: text('password_hash').notNull(),
    /** Null while a password is enough. */
    secondFactor: jsonb('second_factor').$type<SecondFactor>(),
    /** The shop that they went to last, of several. */
    lastShopId: text('last_shop_id'),
  },
  (table) => [uniqueIndex('accounts_email').on(table.email)],
)

/** What a device or a password manager signs in with, in place of a password: it keeps the private key, we the public one (WebAuthn, W3C). */
export const passkeys = pgTable(
  'passkeys',
  {
    /** The credential's id, in base64url. */
    id: text('id').primaryKey(),
    accountId: text('account_id')
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    /** By which people tell theirs apart. */
    name: text('name').notNull(),
    /** COSE, in base64url. */
    publicKey: text('public_key').notNull(),
    /** How often it has signed, where it counts: one that goes back was copied. */
    uses: instant('uses').notNull(),
    transports: jsonb('transports').$type<string[]>().notNull(),
    createdAt: instant('created_at').notNull(),
    lastUsedAt: instant('last_used_at'),
  },
  (table) => [index('passkeys_account').on(table.accountId)],
)

/** What a passkey is asked to sign: once, and soon. */
export const passkeyChallenges = pgTable(
  'passkey_challenges',
  {
    challenge: text('challenge').primaryKey(),
    /** Whose new passkey it is for; null for whoever signs in. */
    accountId: text('account_id'),
    expiresAt: instant('expires_at').notNull(),
  },
  (table) => [index('passkey_challenges_age').on(table.expiresAt)],
)

/** Who works in a shop: an account, as what, and by which name. */
export const users = pgTable(
  'users',
  {
    shopId: shopId(),
    id: text('id')
      .notNull()
      .references(() => accounts.id),
    name: text('name').notNull(),
    role: text('role', { enum: ROLES }).notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    // For the shops of somebody.
    index('users_account').on(table.id),
  ],
)

export const sessions = pgTable(
  'sessions',
  {
    /** SHA-256 of the token in the cookie. */
    tokenHash: text('token_hash').primaryKey(),
    shopId: shopId(),
    userId: text('user_id').notNull(),
    /** The same for all tokens that one signing-in has had. */
    family: text('family').notNull(),
    /** When that was. All times here are real ones. */
    startedAt: instant('started_at').notNull(),
    /** What signed in, as it calls itself, so that people know their own again. */
    agent: text('agent').notNull().default(''),
    /** It took more than a password: a code of a device, or a passkey. */
    isStrong: boolean('is_strong').notNull().default(false),
    expiresAt: instant('expires_at').notNull(),
    rotateAt: instant('rotate_at').notNull(),
  },
  (table) => [
    foreignKey({ columns: [table.shopId, table.userId], foreignColumns: [users.shopId, users.id] }),
    index('sessions_user').on(table.userId),
    index('sessions_family').on(table.family),
  ],
)

/** Links by which somebody chooses a password: one that was invited, or has forgotten theirs. */
export const accountLinks = pgTable(
  'account_links',
  {
    /** SHA-256 of the token in the link. */
    tokenHash: text('token_hash').primaryKey(),
    shopId: shopId(),
    userId: text('user_id').notNull(),
    kind: text('kind', { enum: ['invitation', 'reset'] }).notNull(),
    createdAt: instant('created_at').notNull(),
    expiresAt: instant('expires_at').notNull(),
  },
  (table) => [
    foreignKey({ columns: [table.shopId, table.userId], foreignColumns: [users.shopId, users.id] }),
    index('account_links_user').on(table.userId),
  ],
)

/** Who changed what and when, beside what the ledger says of people and runs. Nothing of it is ever changed or removed. */
export const auditEntries = pgTable(
  'audit_entries',
  {
    shopId: shopId(),
    id: instant('id').notNull().generatedAlwaysAsIdentity(),
    /** Real time. */
    at: instant('at').notNull(),
    /** Who it was: the account's id, a key's, or the command line. */
    userId: text('user_id').notNull(),
    person: text('person').notNull(),
    /** What was done, by the operation's name and in words. */
    operation: text('operation').notNull(),
    did: text('did').notNull(),
    /** What it was done to, by the names that stand in the address. */
    about: jsonb('about').$type<Record<string, string>>().notNull(),
    before: jsonb('before').$type<unknown>(),
    after: jsonb('after').$type<unknown>(),
  },
  (table) => [primaryKey({ columns: [table.shopId, table.id] })],
)

/** How often somebody has tried to sign in of late, by account and by network address, as digests. */
export const signInTries = pgTable('sign_in_tries', {
  who: text('who').primaryKey(),
  beganAt: instant('began_at').notNull(),
  tries: integer('tries').notNull(),
})

export const apiKeys = pgTable(
  'api_keys',
  {
    shopId: shopId(),
    id: text('id').notNull(),
    name: text('name').notNull(),
    /** The first characters, so that people can tell keys apart. */
    prefix: text('prefix').notNull(),
    /** SHA-256 of the key; the key itself is shown once and kept nowhere. */
    keyHash: text('key_hash').notNull(),
    /** What it may do. */
    scopes: jsonb('scopes').$type<KeyScope[]>().notNull().default(['events']),
    createdAt: instant('created_at').notNull(),
    lastUsedAt: instant('last_used_at'),
    revokedAt: instant('revoked_at'),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.id] }),
    uniqueIndex('api_keys_hash').on(table.keyHash),
  ],
)

/** What was answered to requests that name an idempotency key, for a day. */
export const answeredRequests = pgTable(
  'answered_requests',
  {
    shopId: shopId(),
    /** The API key that sent it. */
    keyId: text('key_id').notNull(),
    idempotencyKey: text('idempotency_key').notNull(),
    /** Of the method, the path and the body: the same key stands for the same request. */
    digest: text('digest').notNull(),
    /** Null while it is being done. */
    status: integer('status'),
    body: text('body'),
    startedAt: instant('started_at').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.shopId, table.keyId, table.idempotencyKey] }),
    index('answered_requests_age').on(table.startedAt),
  ],
)
