import type { Mailer } from '../../../backend/messages/index.ts'
import { Recommender } from '../../../backend/recommend/index.ts'
import {
  previewBody,
  previewResponse,
  samplesBody,
  samplesResponse,
  testBody,
  testResponse,
} from '../../../contract/messages.ts'
import { previewMessage } from '../../../drivers/preview/preview.ts'
import { samplesFor } from '../../../drivers/preview/samples.ts'
import { previewEml, sendTest } from '../../../drivers/preview/testMail.ts'
import { askerOf } from '../../asker.ts'
import { DOCUMENT_BODY_BYTES as bodyLimit } from '../../bodies.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireWriter } from '../../guards.ts'

/** Messages looked at before they are sent: for whom, how, and a test to oneself. */
export function messageRoutes(
  app: App,
  { db, reading, publicUrl }: ServerContext,
  mailer: Mailer,
): void {
  const recommender = new Recommender()

  app.post(
    '/api/messages/samples',
    { schema: { body: samplesBody, response: { 200: samplesResponse } } },
    ({ user, body: { trigger, search } }, reply) =>
      reading.run(askerOf(reply), (tx) => samplesFor(tx, user.shopId, trigger, search)),
  )

  app.post(
    '/api/messages/preview',
    { schema: { body: previewBody, response: { 200: previewResponse } }, bodyLimit },
    ({ user, body }) => previewMessage(db, user.shopId, { ...body, publicUrl, recommender }),
  )

  app.post(
    '/api/messages/eml',
    { schema: { body: testBody }, bodyLimit },
    async ({ user, body }, reply) => {
      const mail = await previewEml(db, user.shopId, { ...body, publicUrl, recommender })
      return reply.type('message/rfc822').send(mail)
    },
  )

  app.post(
    '/api/messages/test',
    {
      schema: { body: testBody, response: { 200: testResponse } },
      bodyLimit,
      preHandler: requireWriter,
      config: { rateLimit: { max: 20, timeWindow: '1 minute' } },
    },
    async ({ user, body }) => {
      await sendTest(db, mailer, user.shopId, { ...body, publicUrl, recommender, to: user.email })
      return { to: user.email }
    },
  )
}
