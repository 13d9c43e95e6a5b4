import { z } from 'zod'
import { findWorkflow, workflowResults } from '../../../backend/workflows/index.ts'
import { readClock } from '../../../backend/shop/index.ts'
import { resultsQuery, resultsResponse } from '../../../contract/results.ts'
import { DAY_MS } from '../../../core/shared/duration.ts'
import { askerOf } from '../../asker.ts'
import type { App, ServerContext } from '../../context.ts'

/** What came of a workflow. */
export function resultRoutes(app: App, { db, reading }: ServerContext): void {
  app.get(
    '/api/workflows/:id/results',
    {
      schema: {
        params: z.object({ id: z.string() }),
        querystring: resultsQuery,
        response: { 200: resultsResponse },
      },
    },
    async ({ user: { shopId }, params: { id }, query: { days, windowDays, ...asked } }, reply) => {
      await findWorkflow(db, shopId, id)
      const { now } = await readClock(db, shopId)
      // Up to now and what happens in this very moment.
      const to = asked.to ?? now + 1
      const from = asked.from ?? to - days * DAY_MS
      const results = await reading.run(askerOf(reply), (tx) =>
        workflowResults(tx, { shopId, workflowId: id, from, to, windowDays, now }),
      )
      return { from, to, windowDays, ...results }
    },
  )
}
