import { z } from 'zod'
import { realNow } from '../../../backend/platform/realTime.ts'
import { endVisit, findWorkflow, noteVisit } from '../../../backend/workflows/index.ts'
import { visitBody, visitResponse } from '../../../contract/workflows.ts'
import type { App, ServerContext } from '../../context.ts'

const params = z.object({ id: z.string() })

/** Who has a workflow open: asked every few seconds by each window that has. */
export function visitRoutes(app: App, { db }: ServerContext): void {
  app.post(
    '/api/workflows/:id/visit',
    { schema: { params, body: visitBody, response: { 200: visitResponse } } },
    async ({ user, params: { id }, body: { visit } }) => {
      const { workflow } = await findWorkflow(db, user.shopId, id)
      const own = { workflowId: id, visit, userId: user.userId }
      const others = await noteVisit(db, user.shopId, own, realNow())
      return {
        others: others.map(({ userId, name }) => ({ name, isSelf: userId === user.userId })),
        draftRevision: workflow.draftRevision,
      }
    },
  )

  app.post(
    '/api/workflows/:id/visit/end',
    { schema: { params, body: visitBody } },
    async ({ user, params: { id }, body: { visit } }, reply) => {
      await endVisit(db, user.shopId, { workflowId: id, visit })
      return reply.status(204).send()
    },
  )
}
