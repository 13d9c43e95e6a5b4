import { forgetChanged } from '../../../backend/changes/index.ts'
import { cohorts, mailHealth, pressure, sending } from '../../../backend/overview/index.ts'
import { holdoutReports } from '../../../backend/workflows/index.ts'
import { findShop } from '../../../backend/shop/index.ts'
import {
  cohortsResponse,
  holdoutResponse,
  healthResponse,
  pressureResponse,
  sendingResponse,
} from '../../../contract/overview.ts'
import type { App, ServerContext } from '../../context.ts'
import { figures } from '../../figures.ts'

/** How the shop as a whole is doing. */
export function overviewRoutes(app: App, context: ServerContext): void {
  const { db } = context

  app.get('/api/overview/sending', { schema: { response: { 200: sendingResponse } } }, async (request, reply) => {
    const { shopId } = request.user
    const shop = await findShop(db, shopId)
    await forgetChanged(db, shopId)
    return figures(context, request, reply, { key: 'sending', count: (tx, now) => sending(tx, shop, now), writes: true })
  }) // prettier-ignore

  app.get('/api/overview/health', { schema: { response: { 200: healthResponse } } }, (request, reply) =>
    figures(context, request, reply, { key: 'health', count: (tx, now) => mailHealth(tx, request.user.shopId, now) }),
  ) // prettier-ignore

  app.get('/api/overview/pressure', { schema: { response: { 200: pressureResponse } } }, (request, reply) =>
    figures(context, request, reply, { key: 'pressure', count: (tx, now) => pressure(tx, request.user.shopId, now) }),
  ) // prettier-ignore

  app.get('/api/overview/cohorts', { schema: { response: { 200: cohortsResponse } } }, async (request, reply) => {
    const shop = await findShop(db, request.user.shopId)
    return figures(context, request, reply, { key: 'cohorts', count: (tx, now) => cohorts(tx, shop, now) })
  }) // prettier-ignore

  app.get(
    '/api/overview/holdout',
    { schema: { response: { 200: holdoutResponse } } },
    (request, reply) =>
      figures(context, request, reply, {
        key: 'holdout',
        count: async (tx, now) => ({ reports: await holdoutReports(tx, request.user.shopId, now) }),
      }),
  )
}
