import { z } from 'zod'
import { addSegment, listSegments, removeSegment, saveSegment } from '../../../backend/people/index.ts' // prettier-ignore
import { segment, segmentBody } from '../../../contract/people.ts'
import { DOCUMENT_BODY_BYTES as bodyLimit } from '../../bodies.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

const params = z.object({ id: z.string().max(100) })

/** Conditions on people that are kept under a name. */
export function segmentRoutes(app: App, { db }: ServerContext): void {
  app.get('/api/segments', { schema: { response: { 200: z.array(segment) } } }, ({ user }) =>
    listSegments(db, user.shopId),
  )

  app.post(
    '/api/segments',
    {
      schema: { body: segmentBody, response: { 201: z.object({ id: z.string() }) } },
      bodyLimit,
      preHandler: requireMarketer,
    },
    async ({ user, body }, reply) => {
      const id = await addSegment(db, user.shopId, { ...body, person: user.name })
      return reply.status(201).send({ id })
    },
  )

  app.put(
    '/api/segments/:id',
    { schema: { params, body: segmentBody }, bodyLimit, preHandler: requireMarketer },
    async ({ user, params: { id }, body }, reply) => {
      await saveSegment(db, user.shopId, id, { ...body, person: user.name })
      return reply.status(204).send()
    },
  )

  app.delete(
    '/api/segments/:id',
    { schema: { params }, preHandler: requireMarketer },
    async ({ user, params: { id } }, reply) => {
      await removeSegment(db, user.shopId, id)
      return reply.status(204).send()
    },
  )
}
