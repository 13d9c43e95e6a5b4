import { and, desc, eq, isNull } from 'drizzle-orm'
import type { KeyScope } from '../../contract/scopes.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { hashToken, randomToken } from './secrets.ts'
import { apiKeys } from './tables.ts'

export interface ApiKey {
  id: string
  name: string
  prefix: string
  scopes: KeyScope[]
  createdAt: number
  lastUsedAt: number | null
}

/** Makes an API key. The key itself is in the answer and nowhere else. */
export async function createApiKey(
  db: Db,
  shopId: string,
  name: string,
  scopes: KeyScope[] = ['events'],
): Promise<ApiKey & { key: string }> {
  const key = `ymb_${randomToken()}`
  const row = {
    shopId,
    id: randomToken().slice(0, 12),
    name,
    prefix: key.slice(0, 8),
    keyHash: hashToken(key),
    scopes,
    createdAt: realNow(),
  }
  await db.insert(apiKeys).values(row)
  const { id, prefix, createdAt } = row
  return { id, name, prefix, scopes, createdAt, lastUsedAt: null, key }
}

/** Sees to it that a key that somebody has made elsewhere works; doing it again changes nothing. */
export async function keepApiKey(
  db: Db,
  shopId: string,
  { name, key }: { name: string; key: string },
): Promise<void> {
  const keyHash = hashToken(key)
  const row = { id: keyHash.slice(0, 12), name, prefix: key.slice(0, 8), keyHash }
  await db
    .insert(apiKeys)
    .values({ shopId, ...row, createdAt: realNow() })
    .onConflictDoUpdate({ target: apiKeys.keyHash, set: { revokedAt: null } })
}

/** The keys that work, newest first. */
export async function listApiKeys(db: Db, shopId: string): Promise<ApiKey[]> {
  const rows = await db
    .select()
    .from(apiKeys)
    .where(and(eq(apiKeys.shopId, shopId), isNull(apiKeys.revokedAt)))
    .orderBy(desc(apiKeys.createdAt))
  return rows.map(({ id, name, prefix, scopes, createdAt, lastUsedAt }) => ({
    id,
    name,
    prefix,
    scopes,
    createdAt,
    lastUsedAt,
  }))
}

/** Makes a key stop working at once. Throws AppError `not_found`. */
export async function revokeApiKey(db: Db, shopId: string, id: string): Promise<void> {
  const revoked = await db
    .update(apiKeys)
    .set({ revokedAt: realNow() })
    .where(and(eq(apiKeys.shopId, shopId), eq(apiKeys.id, id), isNull(apiKeys.revokedAt)))
    .returning({ id: apiKeys.id })
  if (revoked.length === 0) throw new AppError('not_found', 'There is no such key.')
}

const LAST_USED_GRAIN_MS = 60_000

/** Whoever calls with an API key. */
export interface KeyHolder {
  shopId: string
  id: string
  name: string
  scopes: KeyScope[]
}

/** Whose key it is and what it may do, or null for a key that does not work. */
export async function holderOfKey(db: Db, key: string): Promise<KeyHolder | null> {
  const [row] = await db
    .select()
    .from(apiKeys)
    .where(and(eq(apiKeys.keyHash, hashToken(key)), isNull(apiKeys.revokedAt)))
  if (!row) return null
  const now = realNow()
  // To the minute: a write for each of thousands of requests would cost more than it tells.
  if ((row.lastUsedAt ?? 0) < now - LAST_USED_GRAIN_MS) {
    await db
      .update(apiKeys)
      .set({ lastUsedAt: now })
      .where(and(eq(apiKeys.shopId, row.shopId), eq(apiKeys.id, row.id)))
  }
  const { shopId, id, name, scopes } = row
  return { shopId, id, name, scopes }
}
