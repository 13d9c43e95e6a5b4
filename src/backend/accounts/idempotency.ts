import { and, eq, isNotNull, lt } from 'drizzle-orm'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { answeredRequests } from './tables.ts'

/** A request that names a key of its own, so that it can be sent again without being done again. */
export interface KeyedRequest {
  shopId: string
  keyId: string
  idempotencyKey: string
  digest: string
}

/** What was answered before. */
export interface KeptAnswer {
  status: number
  body: string
}

const KEPT_MS = DAY_MS

/**
 * Begins a request: null when it is new, what was answered when it was done before. Throws AppError `conflict` while the
 * same is being done, or where that was broken off; `bad_input` where the key stood for another request.
 */
export async function beginRequest(db: Db, request: KeyedRequest): Promise<KeptAnswer | null> {
  const now = realNow()
  await db.delete(answeredRequests).where(lt(answeredRequests.startedAt, now - KEPT_MS))
  const begun = await db
    .insert(answeredRequests)
    .values({ ...request, startedAt: now })
    .onConflictDoNothing()
    .returning({ key: answeredRequests.idempotencyKey })
  if (begun.length > 0) return null
  const [known] = await db.select().from(answeredRequests).where(byKey(request))
  if (known && known.digest !== request.digest) {
    const problem = { path: 'Idempotency-Key', message: 'stood for another request' }
    throw new AppError('bad_input', 'This idempotency key was used for another request. Take a new one.', [problem]) // prettier-ignore
  }
  if (!known || known.status === null) {
    throw new AppError('conflict', 'The same request is being done, or was broken off. Look whether it was done before you send it with another key.') // prettier-ignore
  }
  return { status: known.status, body: known.body ?? '' }
}

/** Keeps what was answered; what was refused is forgotten, so that it can be sent again once it is mended. */
export async function endRequest(
  db: Db,
  request: KeyedRequest,
  { status, body }: KeptAnswer,
): Promise<void> {
  if (status >= 400) await db.delete(answeredRequests).where(byKey(request))
  else await db.update(answeredRequests).set({ status, body }).where(byKey(request))
}

const byKey = ({ shopId, keyId, idempotencyKey }: KeyedRequest) =>
  and(
    eq(answeredRequests.shopId, shopId),
    eq(answeredRequests.keyId, keyId),
    eq(answeredRequests.idempotencyKey, idempotencyKey),
  )

/** Forgets what was answered, which may name people. */
export async function forgetAnswers(db: Db, shopId: string): Promise<void> {
  await db
    .delete(answeredRequests)
    .where(and(eq(answeredRequests.shopId, shopId), isNotNull(answeredRequests.status)))
}
