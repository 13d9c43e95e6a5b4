import type { FastifyRequest } from 'fastify'
import { noteAudit } from '../backend/accounts/index.ts'
import { toError } from '../backend/platform/errors.ts'
import { AUDITED } from './audited.ts'
import type { App, ServerContext } from './context.ts'
import { FROM_BEFORE } from './idempotency.ts'
import { operationKey } from './documented/operations.ts'

declare module 'fastify' {
  interface FastifyRequest {
    /** What stood before, of an operation that is put on record. */
    auditBefore?: unknown
  }
}

/** Puts on record who changed what, from what to what, of every operation that `AUDITED` names and that was done. */
export function keepAudit(app: App, { db }: ServerContext): void {
  app.addHook('preHandler', async (request) => {
    const audited = AUDITED[keyOf(request)]
    if (audited?.before === undefined) return
    const url = addressOf(audited.before, request)
    const { cookie, authorization } = request.headers
    // As who asks sees it: what they may not read is not read for them.
    const answer = await app.inject({ method: 'GET', url, headers: { ...(cookie && { cookie }), ...(authorization && { authorization }) } }) // prettier-ignore
    if (answer.statusCode !== 200) return
    const found: unknown = answer.json()
    request.auditBefore = audited.of === undefined ? found : memberOf(found, audited.of, request)
  })

  app.addHook('onSend', async (request, reply) => {
    const audited = AUDITED[keyOf(request)]
    if (!audited || reply.statusCode >= 400 || reply.hasHeader(FROM_BEFORE)) return
    const { userId, name: person, shopId } = request.user
    const about = request.params as Record<string, string>
    const after = audited.silent ? null : kept(request.body ?? null)
    try {
      await noteAudit(db, { shopId, userId, person, operation: keyOf(request), did: audited.did, about, before: kept(request.auditBefore ?? null), after }) // prettier-ignore
    } catch (error) {
      // It is done: to say otherwise would have it done twice.
      request.log.error({ err: toError(error), operation: keyOf(request) }, 'a change was not put on record') // prettier-ignore
    }
  })
}

const keyOf = ({ method, routeOptions }: FastifyRequest): string =>
  operationKey(method, routeOptions.url ?? '')

const addressOf = (path: string, { params }: FastifyRequest): string =>
  path.replaceAll(/\{(\w+)\}/g, (_all, name: string) => encodeURIComponent((params as Record<string, string>)[name] ?? '')) // prettier-ignore

function memberOf(found: unknown, key: 'id' | 'key', { params }: FastifyRequest): unknown {
  const wanted = (params as Record<string, string>)[key]
  const all = Array.isArray(found) ? (found as Record<string, unknown>[]) : []
  return all.find((one) => one[key] === wanted) ?? null
}

/** What is nobody's to read afterwards. */
const SECRET = /password|secret|token|^next$|^current$|authorization/i
const MOST_CHARACTERS = 20_000

/** Something as it is put on record: without secrets, and not without end. */
function kept(value: unknown): unknown {
  const text = JSON.stringify(value, (name, one: unknown) => (SECRET.test(name) && typeof one === 'string' ? '…' : one)) // prettier-ignore
  if (text.length > MOST_CHARACTERS) return { tooLong: `${text.length} characters` }
  return JSON.parse(text)
}
