import { codesSince, couponReport, whoWaits } from '../../../backend/coupons/index.ts'
import { listWorkflows } from '../../../backend/workflows/index.ts'
import { codesQuery, codesResponse, couponsResponse } from '../../../contract/coupons.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import type { App, ServerContext } from '../../context.ts'
import { figures } from '../../figures.ts'
import { requireKey } from '../../guards.ts'

/** What became of the codes that were issued. */
export function couponRoutes(app: App, context: ServerContext): void {
  const { db } = context
  app.get(
    '/api/coupons',
    { schema: { response: { 200: couponsResponse } } },
    async (request, reply) => {
      const { user } = request
      const rows = await listWorkflows(db, user.shopId)
      const { reports, waiting } = await figures(context, request, reply, {
        key: 'coupons',
        count: async (tx, now) => ({
          reports: await couponReport(tx, user.shopId, now),
          waiting: await whoWaits(tx, user.shopId, now),
        }),
      })
      const steps = reports.map((report) => {
        const definition = rows.find(({ workflow }) => workflow.id === report.workflowId)?.workflow
          .draft
        const step = allSteps(definition?.steps ?? []).find(({ key }) => key === report.step)
        const name = step?.kind === 'coupon' && step.name !== '' ? step.name : report.step
        return { ...report, workflow: definition?.name ?? 'a workflow that is gone', name }
      })
      return { steps, waiting }
    },
  )
}

const MOST_CODES = 1000

/** The shop's own system fetches the codes it is to take. */
export function shopCouponRoutes(app: App, context: ServerContext): void {
  const { db } = context
  app.get(
    '/v1/coupons',
    {
      schema: { querystring: codesQuery, response: { 200: codesResponse } },
      onRequest: requireKey(context),
    },
    async ({ keyShopId, query: { since } }) => {
      const codes = await codesSince(db, keyShopId, since, MOST_CODES + 1)
      return { codes: codes.slice(0, MOST_CODES), more: codes.length > MOST_CODES }
    },
  )
}
