import { z } from 'zod'
import { connectionAt, receive, type Evaluator } from '../../../backend/connections/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import type { App, ServerContext } from '../../context.ts'
import { limitPerToken } from '../../guards.ts'
import { takePlace } from '../../places.ts'

const params = z.object({ token: z.string().max(100) })
const answer = z.object({
  /** `refused`: kept, and mapped once more when the mapping is mended. */
  state: z.enum(['taken', 'refused']),
  events: z.int(),
  problems: z.array(z.object({ path: z.string(), message: z.string() })),
})

/** More than any shop sends of one thing. */
const MOST_BYTES = 1024 * 1024

/**
 * What other systems send in a language of their own, at an address that is secret. Answers 202 when it is kept, whether it
 * could be mapped or not: nobody needs to send it again. 401 where it is not signed as the connection asks.
 */
export function incomingConnectionRoutes(app: App, { db, places }: ServerContext, evaluator: Evaluator): void {
  // The signature is of the very bytes that came.
  app.removeAllContentTypeParsers()
  app.addContentTypeParser('*', { parseAs: 'string' }, (_request, body, done) => done(null, body))

  app.post(
    '/v1/in/:token',
    {
      schema: { params, response: { 202: answer } },
      bodyLimit: MOST_BYTES,
      config: { keepsText: true, ...limitPerToken(1200) },
      // Whose address it is has yet to be looked up: one address has its share.
      onRequest: takePlace(places, ({ params: given }) => (given as z.infer<typeof params>).token),
    },
    async ({ params: { token }, headers, body }, reply) => {
      const connection = await connectionAt(db, token)
      if (!connection?.isOn) throw new AppError('not_found', 'There is no connection at this address.')
      const text = typeof body === 'string' ? body : ''
      const { state, outcome } = await receive(db, evaluator, connection, { body: text.replaceAll('\0', ''), headers })
      if (state === 'unsigned') throw new AppError('not_signed_in', 'The signature is missing or wrong.')
      return reply.status(202).send({ state, events: outcome.fresh, problems: outcome.problems })
    },
  )
} // prettier-ignore
