import { findShop, saveHoldout, saveShopRules } from '../../../backend/shop/index.ts'
import { shopRules, shopRulesResponse } from '../../../contract/shopRules.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

/** Message gap, quiet hours, the holdout and the signing secret of hooks. */
export function shopRulesRoutes(app: App, { db }: ServerContext): void {
  const marketer = { preHandler: requireMarketer }

  app.get(
    '/api/shop-rules',
    { schema: { response: { 200: shopRulesResponse } }, ...marketer },
    async ({ user }) => {
      const shop = await findShop(db, user.shopId)
      const { percent = null, since = null } = shop.holdout ?? {}
      return { ...shop, holdoutPercent: percent, holdoutSince: since }
    },
  )

  app.put(
    '/api/shop-rules',
    { schema: { body: shopRules }, ...marketer },
    async ({ user, body }, reply) => {
      await saveShopRules(db, user.shopId, body)
      const { holdoutPercent } = body
      if (holdoutPercent !== undefined) await saveHoldout(db, user.shopId, holdoutPercent)
      return reply.status(204).send()
    },
  )
}
