import { changeShop } from '../../../backend/addresses/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { findShop } from '../../../backend/shop/index.ts'
import { shopFactsBody } from '../../../contract/shopFacts.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireOwner } from '../../guards.ts'

/** What is set of the shop itself: its name, its time, and from whom its messages come. */
export function shopFactsRoutes(app: App, { db }: ServerContext): void {
  const owner = { preHandler: requireOwner }

  app.get('/api/shop', { schema: { response: { 200: shopFactsBody } }, ...owner }, async ({ user }) => {
    const { name, zone, locale, defaultSender, secondPerson, strongOwners } = await findShop(db, user.shopId)
    return { name, zone, locale, senderName: defaultSender.name, senderAddress: defaultSender.address, secondPerson, strongOwners }
  })

  app.put('/api/shop', { schema: { body: shopFactsBody }, ...owner }, async ({ user, body }, reply) => {
    // Or the one who sets it would be locked out by it.
    if (body.strongOwners && !user.isStrong) throw new AppError('bad_input', 'The shop was not changed.', [{ path: 'strongOwners', message: 'You have signed in with your password alone. Set up a second factor or a passkey first, and sign in with it.' }])
    await changeShop(db, user.shopId, body)
    return reply.status(204).send()
  })
} // prettier-ignore
