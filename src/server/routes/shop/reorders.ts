import { reorderReport } from '../../../backend/reorder/index.ts'
import { reordersResponse } from '../../../contract/reorders.ts'
import type { App, ServerContext } from '../../context.ts'
import { figures } from '../../figures.ts'

/** When products are bought again. */
export function reorderRoutes(app: App, context: ServerContext): void {
  app.get('/api/reorders', { schema: { response: { 200: reordersResponse } } }, (request, reply) =>
    figures(context, request, reply, {
      key: 'reorders',
      count: (tx, now) => reorderReport(tx, request.user.shopId, now),
    }),
  )
}
