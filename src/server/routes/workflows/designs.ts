import { z } from 'zod'
import {
  changeDesign,
  designUses,
  findDesign,
  keepDesign,
  listDesigns,
  removeDesign,
  renameDesign,
} from '../../../backend/messages/index.ts'
import {
  designBody,
  designChange,
  designMade,
  designName,
  designResponse,
  designsResponse,
} from '../../../contract/messages.ts'
import { DOCUMENT_BODY_BYTES as bodyLimit } from '../../bodies.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireWriter } from '../../guards.ts'

const params = z.object({ id: z.string().max(40) })
const inRevision = params.extend({ revision: z.coerce.number().int().min(1).max(1e9) })

/** Whole designs that a shop keeps for its messages. */
export function designRoutes(app: App, { db }: ServerContext): void {
  app.get(
    '/api/designs',
    { schema: { response: { 200: designsResponse } } },
    async ({ user: { shopId } }) => {
      const [designs, uses] = await Promise.all([listDesigns(db, shopId), designUses(db, shopId)])
      return designs.map((design) => ({ ...design, uses: uses.get(design.id) ?? 0 }))
    },
  )

  app.get(
    '/api/designs/:id/revisions/:revision',
    { schema: { params: inRevision, response: { 200: designResponse } } },
    ({ user, params: { id, revision } }) => findDesign(db, user.shopId, id, revision),
  )

  app.post(
    '/api/designs',
    {
      schema: { body: designBody, response: { 201: designMade } },
      bodyLimit,
      preHandler: requireWriter,
    },
    async ({ user, body }, reply) =>
      reply.status(201).send(await keepDesign(db, user.shopId, body)),
  )

  app.put(
    '/api/designs/:id',
    {
      schema: { params, body: designChange, response: { 200: designMade } },
      bodyLimit,
      preHandler: requireWriter,
    },
    async ({ user, params: { id }, body }) => ({
      id,
      revision: await changeDesign(db, user.shopId, { ...body, id }),
    }),
  )

  app.put(
    '/api/designs/:id/name',
    { schema: { params, body: designName }, preHandler: requireWriter },
    async ({ user, params: { id }, body }, reply) => {
      await renameDesign(db, user.shopId, id, body.name)
      return reply.status(204).send()
    },
  )

  app.delete(
    '/api/designs/:id',
    { schema: { params }, preHandler: requireWriter },
    async ({ user, params: { id } }, reply) => {
      await removeDesign(db, user.shopId, id)
      return reply.status(204).send()
    },
  )
}
