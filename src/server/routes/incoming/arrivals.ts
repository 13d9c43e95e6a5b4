import { AppError } from '../../../backend/platform/errors.ts'
import { findShop, ingestEvents, refusedOf, takenEvents } from '../../../backend/shop/index.ts'
import {
  arrivalsQuery,
  arrivalsResponse,
  sentEventAnswer,
  testEventAnswer,
  testEventBody,
} from '../../../contract/arrivals.ts'
import { readCloudEvent } from '../../../core/events/cloudEvent.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

/** Events that came, those that were refused, and one that is tried or sent by hand. */
export function arrivalRoutes(app: App, { db, reading }: ServerContext): void {
  app.get(
    '/api/events',
    {
      schema: { querystring: arrivalsQuery, response: { 200: arrivalsResponse } },
      preHandler: requireMarketer,
    },
    async ({ user, query: { show, type, before } }, reply) => {
      const shop = await findShop(db, user.shopId)
      return reading.run(askerOf(reply), (tx) =>
        show === 'taken' ? takenEvents(tx, shop, { type, before }) : refusedOf(tx, shop.id, before),
      )
    },
  )

  app.post(
    '/api/events/try',
    {
      schema: { body: testEventBody, response: { 200: testEventAnswer } },
      config: { keepsText: true },
      preHandler: requireMarketer,
    },
    ({ body: { event } }) => {
      const read = readCloudEvent(event)
      return read.ok
        ? { problems: [], ignored: read.ignored }
        : { problems: read.problems, ignored: [] }
    },
  )

  app.post(
    '/api/events',
    {
      schema: { body: testEventBody, response: { 200: sentEventAnswer } },
      config: { keepsText: true },
      preHandler: requireMarketer,
    },
    async ({ user, body: { event } }) => {
      const [receipt] = await ingestEvents(db, user.shopId, [event])
      if (!receipt) throw new RangeError('An event has a receipt')
      if (receipt.status !== 'refused') return { status: receipt.status }
      throw new AppError('bad_input', 'This event cannot be taken in.', receipt.problems)
    },
  )
}
