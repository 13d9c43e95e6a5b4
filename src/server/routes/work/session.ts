import { shopsOf, signIn, signOut, switchShop } from '../../../backend/accounts/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { findShop } from '../../../backend/shop/index.ts'
import { sessionResponse, signInBody, switchShopBody } from '../../../contract/session.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireUser, sessionCookie } from '../../guards.ts'

/** Signing in and out, and who is signed in. */
export function sessionRoutes(app: App, context: ServerContext): void {
  const { db } = context
  const cookie = sessionCookie(context)

  app.post('/api/session', { schema: { body: signInBody } }, async (request, reply) => {
    const old = request.cookies[cookie.name]
    const session = await signIn(db, {
      ...request.body,
      address: request.ip,
      agent: request.headers['user-agent'] ?? '',
      config: context.config,
    })
    if (old) await signOut(db, old)
    return reply.setCookie(cookie.name, session.token, cookie.options).status(204).send()
  })

  app.delete('/api/session', async (request, reply) => {
    const token = request.cookies[cookie.name]
    if (token) await signOut(db, token)
    return reply.clearCookie(cookie.name, { path: '/' }).status(204).send()
  })

  app.put(
    '/api/session/shop',
    { schema: { body: switchShopBody }, preHandler: requireUser(context) },
    async ({ user: { userId }, cookies, body }, reply) => {
      const token = cookies[cookie.name]
      if (token === undefined) throw new AppError('not_signed_in', 'Sign in to go on.')
      await switchShop(db, { userId, token }, body.shopId)
      return reply.status(204).send()
    },
  )

  app.get(
    '/api/session',
    { schema: { response: { 200: sessionResponse } }, preHandler: requireUser(context) },
    async ({ user }) => ({
      user: {
        name: user.name,
        email: user.email,
        role: user.role,
        hasSecondFactor: user.hasSecondFactor,
        isStrong: user.isStrong,
      },
      shop: await findShop(db, user.shopId),
      shops: await shopsOf(db, user.userId),
    }),
  )
}
