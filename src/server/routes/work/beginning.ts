import { addUser, setPassword, signIn } from '../../../backend/accounts/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { sameSecret } from '../../../backend/platform/sameSecret.ts'
import {
  beginningToken,
  createFirstShop,
  firstSteps,
  isEmpty,
} from '../../../backend/shop/index.ts'
import {
  beginningBody,
  beginningResponse,
  firstStepsResponse,
} from '../../../contract/beginning.ts'
import type { App, ServerContext } from '../../context.ts'
import { sessionCookie } from '../../guards.ts'

/** The first visit: its owner and its shop are made by whoever has the link that the server's own machine prints. */
export function beginningRoutes(app: App, { db, config, publicUrl }: ServerContext): void {
  const cookie = sessionCookie({ publicUrl, config })
  const limited = { config: { rateLimit: { max: 20, timeWindow: '1 minute' } } }

  app.get('/api/beginning', { schema: { response: { 200: beginningResponse } }, ...limited }, async () => ({
    isEmpty: await isEmpty(db),
  }))

  app.post('/api/beginning', { schema: { body: beginningBody }, ...limited }, async (request, reply) => {
    const { token, owner, shop } = request.body
    if (!sameSecret(token, beginningToken(config.LINK_SECRET))) {
      throw new AppError('not_found', 'This link does not work. “yomble begin”, on the server, prints the right one.')
    }
    const user = await db.transaction(async (tx) => {
      await createFirstShop(tx, shop)
      const added = await addUser(tx, shop.id, { ...owner, role: 'owner' })
      await setPassword(tx, added, owner.password)
      return added
    })
    const { password } = owner
    const session = await signIn(db, {
      email: user.email,
      password,
      address: request.ip,
      agent: request.headers['user-agent'] ?? '',
      config,
    })
    return reply.setCookie(cookie.name, session.token, cookie.options).status(204).send()
  })
} // prettier-ignore

/** What is still to be done, for who is signed in. */
export function firstStepsRoutes(app: App, { db }: ServerContext): void {
  app.get('/api/first-steps', { schema: { response: { 200: firstStepsResponse } } }, ({ user }) =>
    firstSteps(db, user.shopId),
  )
}
