import { findShop, saveBrand } from '../../../backend/shop/index.ts'
import { brandSchema } from '../../../core/messages/brand.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

/** What the designed messages of a shop have in common. */
export function brandRoutes(app: App, { db }: ServerContext): void {
  app.get('/api/brand', { schema: { response: { 200: brandSchema } } }, async ({ user }) => {
    const { brand } = await findShop(db, user.shopId)
    return brand
  })

  app.put(
    '/api/brand',
    { schema: { body: brandSchema }, preHandler: requireMarketer },
    async ({ user, body }, reply) => {
      await saveBrand(db, user.shopId, body)
      return reply.status(204).send()
    },
  )
}
