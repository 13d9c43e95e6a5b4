import { z } from 'zod'
import { changeSaved, keepBlocks, listSaved } from '../../backend/messages/index.ts'
import { savedBlocksBody, savedBlocksMade, savedBlocksResponse } from '../../contract/messages.ts'
import { DOCUMENT_BODY_BYTES as bodyLimit } from '../bodies.ts'
import type { App, ServerContext } from '../context.ts'
import { requireMarketer } from '../guards.ts'

const params = z.object({ id: z.string().max(40) })

/** Blocks that are kept by themselves, and change wherever they are used. */
export function savedBlockRoutes(app: App, { db }: ServerContext): void {
  app.get('/api/saved-blocks', { schema: { response: { 200: savedBlocksResponse } } }, ({ user }) =>
    listSaved(db, user.shopId),
  )

  app.post(
    '/api/saved-blocks',
    {
      schema: { body: savedBlocksBody, response: { 201: savedBlocksMade } },
      bodyLimit,
      preHandler: requireMarketer,
    },
    async ({ user, body }, reply) =>
      reply.status(201).send({ id: await keepBlocks(db, user.shopId, body) }),
  )

  app.put(
    '/api/saved-blocks/:id',
    { schema: { params, body: savedBlocksBody }, bodyLimit, preHandler: requireMarketer },
    async ({ user, params: { id }, body }, reply) => {
      await changeSaved(db, user.shopId, { ...body, id })
      return reply.status(204).send()
    },
  )
}
