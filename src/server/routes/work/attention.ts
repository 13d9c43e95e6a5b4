import { z } from 'zod'
import { attentionList } from '../../../backend/runs/index.ts'
import { attentionItem, repairBody } from '../../../contract/attention.ts'
import { Programs } from '../../../drivers/live/programs.ts'
import { repairMessage, repairRun } from '../../../drivers/live/repair.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

const params = z.object({ id: z.coerce.number().int().positive() })

/** What needs attention, and what a person does about it. */
export function attentionRoutes(app: App, { db }: ServerContext): void {
  const programs = new Programs()
  const marketer = { preHandler: requireMarketer }

  app.get('/api/attention', { schema: { response: { 200: z.array(attentionItem) } } }, ({ user }) =>
    attentionList(db, user.shopId),
  )

  app.post(
    '/api/messages/:id/repair',
    { schema: { params, body: repairBody }, ...marketer },
    async ({ user, params: { id }, body }, reply) => {
      await repairMessage(db, programs, user.shopId, id, { ...body, person: user.name })
      return reply.status(204).send()
    },
  )

  app.post(
    '/api/runs/:id/repair',
    { schema: { params }, ...marketer },
    async ({ user, params: { id } }, reply) => {
      await repairRun(db, user.shopId, id)
      return reply.status(204).send()
    },
  )
}
