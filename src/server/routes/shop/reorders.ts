import { reorderReport } from '../../../backend/reorder/index.ts'
import { readClock } from '../../../backend/shop/index.ts'
import { reordersResponse } from '../../../contract/reorders.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'

/** When products are bought again. */
export function reorderRoutes(app: App, { db, reading }: ServerContext): void {
  app.get(
    '/api/reorders',
    { schema: { response: { 200: reordersResponse } } },
    async ({ user: { shopId } }, reply) => {
      const { now } = await readClock(db, shopId)
      return reading.run(askerOf(reply), (tx) => reorderReport(tx, shopId, now))
    },
  )
}
