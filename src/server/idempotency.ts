import { createHash } from 'node:crypto'
import type { FastifyRequest } from 'fastify'
import { beginRequest, endRequest, type KeyedRequest } from '../backend/accounts/index.ts'
import { AppError } from '../backend/platform/errors.ts'
import type { App, ServerContext } from './context.ts'

const MOST_LENGTH = 200
/** Says of an answer that it was given before, and that nothing was done for it. */
export const FROM_BEFORE = 'idempotency-replayed'

/**
 * Requests of API keys that name an `Idempotency-Key` are done once: sent again within a day they are answered as before. What was
 * refused is not kept, and neither are answers of reading.
 */
export function answerOnce(app: App, { db }: ServerContext): void {
  app.addHook('preHandler', async (request, reply) => {
    const keyed = keyedBy(request)
    if (keyed === null) return
    const before = await beginRequest(db, keyed)
    if (before === null) {
      request.keyed = keyed
      return
    }
    reply.header(FROM_BEFORE, 'true').status(before.status)
    if (before.body !== '') reply.type('application/json; charset=utf-8')
    return reply.serializer(String).send(before.body)
  })

  app.addHook('onSend', async (request, reply, payload) => {
    if (!request.keyed) return
    const body = typeof payload === 'string' ? payload : ''
    await endRequest(db, request.keyed, { status: reply.statusCode, body })
  })
}

function keyedBy({ method, url, body, headers, keyHolder }: FastifyRequest): KeyedRequest | null {
  const idempotencyKey = headers['idempotency-key']
  if (!keyHolder || method === 'GET' || method === 'HEAD' || idempotencyKey === undefined) return null
  if (typeof idempotencyKey !== 'string' || idempotencyKey === '' || idempotencyKey.length > MOST_LENGTH)
    throw new AppError('bad_input', `An idempotency key has at most ${MOST_LENGTH} characters.`)
  const told = `${method} ${url} ${JSON.stringify(body ?? null)}`
  const digest = createHash('sha256').update(told).digest('base64url')
  return { shopId: keyHolder.shopId, keyId: keyHolder.id, idempotencyKey, digest }
} // prettier-ignore

declare module 'fastify' {
  interface FastifyRequest {
    /** Set while a request is done that names an idempotency key. */
    keyed?: KeyedRequest
  }
}
