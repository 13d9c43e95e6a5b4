import { labelMany, labelsOf } from '../../../backend/people/index.ts'
import { findShop } from '../../../backend/shop/index.ts'
import { labelAnswer, labelBody, labelQuery, labelsResponse } from '../../../contract/people.ts'
import { idsWhere } from '../../../drivers/people/peopleWhere.ts'
import { askerOf } from '../../asker.ts'
import { DOCUMENT_BODY_BYTES as bodyLimit } from '../../bodies.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

/** Lists and tags: who has them, and many put on or off at once. */
export function labelRoutes(app: App, { db, reading }: ServerContext): void {
  app.get(
    '/api/labels',
    { schema: { querystring: labelQuery, response: { 200: labelsResponse } } },
    ({ user, query: { kind } }, reply) =>
      reading.run(askerOf(reply), (tx) => labelsOf(tx, user.shopId, kind)),
  )

  app.post(
    '/api/labels',
    {
      schema: { body: labelBody, response: { 200: labelAnswer } },
      bodyLimit,
      preHandler: requireMarketer,
    },
    async ({ user, body: { kind, name, change, people } }, reply) => {
      const shop = await findShop(db, user.shopId)
      const names = Array.isArray(people)
        ? people
        : await reading.run(askerOf(reply), (tx) => idsWhere(tx, shop, people))
      const label = { did: kind, name, change }
      return labelMany(db, user.shopId, { names, label, person: user.name })
    },
  )
}
