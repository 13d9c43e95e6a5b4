import { z } from 'zod'
import { readReport } from '../../../backend/messages/index.ts'
import { linkSecretsOf } from '../../../backend/platform/config.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { ingestEvents } from '../../../backend/shop/index.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireKey } from '../../guards.ts'
import { takePlace } from '../../places.ts'

const reportResponse = z.object({ event: z.string().nullable() })
const MAX_BYTES = 2 * 1024 * 1024

/**
 * Reports that come back by mail, handed on by the mail server of the return address as they are:
 * bounces (RFC 3464) and complaints (RFC 5965). Each becomes a message event.
 */
export function reportRoutes(app: App, context: ServerContext): void {
  const { db, config, places } = context
  app.addContentTypeParser(
    'message/rfc822',
    { parseAs: 'buffer', bodyLimit: MAX_BYTES },
    (_request, body, done) => {
      done(null, body)
    },
  )

  app.post(
    '/v1/reports',
    {
      schema: { response: { 200: reportResponse } },
      bodyLimit: MAX_BYTES,
      onRequest: [requireKey(context), takePlace(places, ({ keyShopId }) => keyShopId)],
    },
    async (request) => {
      const shopId = request.keyShopId
      if (!Buffer.isBuffer(request.body)) {
        throw new AppError('bad_input', 'Send the report as it came, as message/rfc822.')
      }
      const event = await readReport(db, { shopId, secrets: linkSecretsOf(config) }, request.body)
      if (event) await ingestEvents(db, shopId, [event])
      return { event: event?.type ?? null }
    },
  )
}
