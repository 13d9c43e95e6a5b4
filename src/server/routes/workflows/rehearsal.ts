import { z } from 'zod'
import type { Mailer } from '../../../backend/messages/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { Recommender } from '../../../backend/recommend/index.ts'
import { whatCameOf } from '../../../backend/runs/index.ts'
import { findPeople, toldOf } from '../../../backend/shop/index.ts'
import {
  likenessesBody,
  likenessesResponse,
  peopleQuery,
  rehearsalPerson,
  rehearsedBody,
  seriesBody,
  seriesResponse,
} from '../../../contract/rehearsal.ts'
import { previewResponse } from '../../../contract/messages.ts'
import type { ToldEvent } from '../../../core/life/lived.ts'
import { likenesses } from '../../../core/rehearsal/fromReal.ts'
import { grouped } from '../../../core/shared/grouped.ts'
import { previewRehearsed, sendSeries } from '../../../drivers/preview/rehearsed.ts'
import { askerOf } from '../../asker.ts'
import { DOCUMENT_BODY_BYTES as bodyLimit } from '../../bodies.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireWriter } from '../../guards.ts'

/** How often which event was told of somebody, the last first. */
function happenedOf(told: readonly ToldEvent[]) {
  const newest = told.toReversed()
  return [...grouped(newest, ({ event }) => event.type)].map(([type, own]) => ({
    type,
    count: own.length,
    lastAt: own[0]?.at ?? 0,
  }))
}

/** For rehearsals: somebody real, who is made up to be like them, and the messages as they would be. */
export function rehearsalRoutes(
  app: App,
  { db, reading, publicUrl }: ServerContext,
  mailer: Mailer,
): void {
  const writer = { preHandler: requireWriter }
  const given = { publicUrl, recommender: new Recommender() }

  app.post(
    '/api/rehearsal/message',
    { schema: { body: rehearsedBody, response: { 200: previewResponse } }, bodyLimit, ...writer },
    async ({ user: { shopId }, body }) => {
      const preview = await previewRehearsed(db, shopId, body, given)
      if (!preview) throw new AppError('not_found', 'No such message leaves.')
      return preview
    },
  )

  app.post(
    '/api/rehearsal/series',
    {
      schema: { body: seriesBody, response: { 200: seriesResponse } },
      bodyLimit,
      ...writer,
      config: { rateLimit: { max: 6, timeWindow: '1 minute' } },
    },
    async ({ user: { shopId, email }, body }) => {
      const sent = await sendSeries(db, mailer, shopId, { ...body, to: email }, given)
      return { sent, to: email }
    },
  )

  app.get(
    '/api/rehearsal/people',
    { schema: { querystring: peopleQuery, response: { 200: z.array(rehearsalPerson) } }, ...writer },
    ({ user: { shopId }, query: { search } }, reply) =>
      reading.run(askerOf(reply), (tx) => findPeople(tx, shopId, search)),
  ) // prettier-ignore

  app.post(
    '/api/rehearsal/likenesses',
    { schema: { body: likenessesBody, response: { 200: likenessesResponse } }, bodyLimit, ...writer },
    ({ user: { shopId }, body: { customerId, trigger, workflowId } }, reply) =>
      reading.run(askerOf(reply), async (tx) => {
        const told = await toldOf(tx, shopId, customerId)
        const alike = likenesses(told, trigger)
        const events = alike.map(({ event }) => event)
        const came = await whatCameOf(tx, shopId, { workflowId, customerId, events })
        const nothing = { runId: null, turnedAway: null, isBeforeLive: false, state: null }
        return {
          occasions: alike.map((one) => ({ ...one, came: came.find(({ event }) => event === one.event) ?? nothing })),
          happened: happenedOf(told),
        }
      }),
  ) // prettier-ignore
}
