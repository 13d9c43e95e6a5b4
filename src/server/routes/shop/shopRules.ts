import { findShop, saveShopRules } from '../../../backend/shop/index.ts'
import { shopRules, shopRulesResponse } from '../../../contract/shopRules.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

/** Message gap, quiet hours and the signing secret of hooks. */
export function shopRulesRoutes(app: App, { db }: ServerContext): void {
  const marketer = { preHandler: requireMarketer }

  app.get(
    '/api/shop-rules',
    { schema: { response: { 200: shopRulesResponse } }, ...marketer },
    ({ user }) => findShop(db, user.shopId),
  )

  app.put(
    '/api/shop-rules',
    { schema: { body: shopRules }, ...marketer },
    async ({ user, body }, reply) => {
      await saveShopRules(db, user.shopId, body)
      return reply.status(204).send()
    },
  )
}
