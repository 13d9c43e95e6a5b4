import { z } from 'zod'
import { choosePassword, makeResetLink, readLink } from '../../../backend/accounts/index.ts'
import type { Mailer } from '../../../backend/messages/index.ts'
import { findShop } from '../../../backend/shop/index.ts'
import { choosePasswordBody, linkResponse, resetBody } from '../../../contract/accounts.ts'
import { sendAccountMail } from '../../accountMail.ts'
import type { App, ServerContext } from '../../context.ts'

const params = z.object({ token: z.string().max(100) })

/** For who is not signed in: a forgotten password, and choosing one by a link that came by mail. */
export function passwordLinkRoutes(
  app: App,
  { db, publicUrl }: ServerContext,
  mailer: Mailer,
): void {
  const limited = { config: { rateLimit: { max: 10, timeWindow: '1 minute' } } }

  app.post('/api/password-links', { schema: { body: resetBody }, ...limited }, async ({ body, log }, reply) => {
    // Answered before it is looked up: neither the answer nor its time tells whether the address has an account.
    void remind(body.email).catch((error: unknown) => log.error({ err: error }, 'a link for a new password was not sent'))
    return reply.status(202).send()
  })

  const remind = async (email: string): Promise<void> => {
    const link = await makeResetLink(db, email)
    if (!link) return
    const shop = await findShop(db, link.shopId)
    await sendAccountMail(mailer, shop, { kind: 'reset', to: link.email, url: `${publicUrl}/password/${link.token}` })
  }

  app.get('/api/password-links/:token', { schema: { params, response: { 200: linkResponse } }, ...limited }, async ({ params: { token } }) => {
    const { kind, email, name } = await readLink(db, token)
    return { kind, email, name }
  })

  app.post('/api/password-links/:token', { schema: { params, body: choosePasswordBody }, ...limited }, async (request, reply) => {
    const { next } = request.body
    const { shopId, email, kind } = await choosePassword(db, request.params.token, next)
    if (kind === 'reset') {
      const shop = await findShop(db, shopId)
      await sendAccountMail(mailer, shop, { kind: 'changed', to: email, url: `${publicUrl}/password` }).catch((error: unknown) => request.log.error({ err: error }, 'that a password was changed could not be told'))
    }
    return reply.status(204).send()
  })
} // prettier-ignore
