import { z } from 'zod'
import { findPeople, toldOf } from '../../../backend/shop/index.ts'
import {
  likenessesBody,
  likenessesResponse,
  peopleQuery,
  rehearsalPerson,
} from '../../../contract/rehearsal.ts'
import { likenesses } from '../../../core/rehearsal/fromReal.ts'
import { askerOf } from '../../asker.ts'
import { DOCUMENT_BODY_BYTES as bodyLimit } from '../../bodies.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

/** For rehearsals: somebody real, and who is made up to be like them. */
export function rehearsalRoutes(app: App, { reading }: ServerContext): void {
  const marketer = { preHandler: requireMarketer }

  app.get(
    '/api/rehearsal/people',
    { schema: { querystring: peopleQuery, response: { 200: z.array(rehearsalPerson) } }, ...marketer },
    ({ user: { shopId }, query: { search } }, reply) =>
      reading.run(askerOf(reply), (tx) => findPeople(tx, shopId, search)),
  ) // prettier-ignore

  app.post(
    '/api/rehearsal/likenesses',
    { schema: { body: likenessesBody, response: { 200: likenessesResponse } }, bodyLimit, ...marketer },
    ({ user: { shopId }, body: { customerId, trigger } }, reply) =>
      reading.run(askerOf(reply), async (tx) => likenesses(await toldOf(tx, shopId, customerId), trigger)),
  ) // prettier-ignore
}
