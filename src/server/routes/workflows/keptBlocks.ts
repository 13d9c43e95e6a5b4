import { z } from 'zod'
import { changeKept, keepBlocks, listSaved } from '../../../backend/messages/index.ts'
import { keptBlocksBody, keptBlocksMade, keptBlocksResponse } from '../../../contract/messages.ts'
import { DOCUMENT_BODY_BYTES as bodyLimit } from '../../bodies.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireWriter } from '../../guards.ts'

const params = z.object({ id: z.string().max(40) })

/** Blocks that are kept by themselves, and change wherever they are used. */
export function keptBlockRoutes(app: App, { db }: ServerContext): void {
  app.get('/api/kept-blocks', { schema: { response: { 200: keptBlocksResponse } } }, ({ user }) =>
    listSaved(db, user.shopId),
  )

  app.post(
    '/api/kept-blocks',
    {
      schema: { body: keptBlocksBody, response: { 201: keptBlocksMade } },
      bodyLimit,
      preHandler: requireWriter,
    },
    async ({ user, body }, reply) =>
      reply.status(201).send({ id: await keepBlocks(db, user.shopId, body) }),
  )

  app.put(
    '/api/kept-blocks/:id',
    { schema: { params, body: keptBlocksBody }, bodyLimit, preHandler: requireWriter },
    async ({ user, params: { id }, body }, reply) => {
      await changeKept(db, user.shopId, { ...body, id })
      return reply.status(204).send()
    },
  )
}
