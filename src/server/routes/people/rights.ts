import { z } from 'zod'
import {
  erasePerson,
  personData,
  readRetention,
  saveRetention,
} from '../../../backend/people/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { findShop } from '../../../backend/shop/index.ts'
import { retentionSchema } from '../../../core/people/retention.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer, requireOwner } from '../../guards.ts'
import { personDataPage } from '../../personPage.ts'

const params = z.object({ id: z.string().max(200) })

/** What people have a right to: all that is known of them, and to be erased; and how long things are kept. */
export function rightsRoutes(app: App, { db, reading }: ServerContext): void {
  app.get(
    '/api/people/:id/data',
    { schema: { params }, preHandler: requireMarketer },
    async ({ user, params: { id } }, reply) => {
      const data = await reading.run(askerOf(reply), (tx) => personData(tx, user.shopId, id))
      return reply.header('content-disposition', 'attachment; filename="person.json"').send(data)
    },
  )

  app.get(
    '/api/people/:id/data-page',
    { schema: { params }, preHandler: requireMarketer },
    async ({ user, params: { id } }, reply) => {
      const shop = await findShop(db, user.shopId)
      const data = await reading.run(askerOf(reply), (tx) => personData(tx, user.shopId, id))
      return reply.type('text/html; charset=utf-8').send(personDataPage(shop, data))
    },
  )

  app.post(
    '/api/people/:id/erase',
    { schema: { params, body: z.strictObject({ id: z.string() }) }, preHandler: requireOwner },
    async ({ user, params: { id }, body }, reply) => {
      if (body.id !== id)
        throw new AppError('bad_input', 'Type the id of the person who is to be erased.', [
          { path: 'id', message: 'is another’s' },
        ])
      await erasePerson(db, user.shopId, id, user.name)
      return reply.status(204).send()
    },
  )

  app.get('/api/retention', { schema: { response: { 200: retentionSchema } } }, ({ user }) =>
    readRetention(db, user.shopId),
  )

  app.put(
    '/api/retention',
    { schema: { body: retentionSchema }, preHandler: requireMarketer },
    async ({ user, body }, reply) => {
      await saveRetention(db, user.shopId, body)
      return reply.status(204).send()
    },
  )
}
