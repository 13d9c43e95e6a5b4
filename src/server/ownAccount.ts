import type { FastifyRequest } from 'fastify'
import type { Mailer } from '../backend/messages/index.ts'
import { AppError } from '../backend/platform/errors.ts'
import { findShop } from '../backend/shop/index.ts'
import { sendAccountMail, type AccountMail } from './accountMail.ts'
import type { ServerContext } from './context.ts'
import { sessionCookie } from './guards.ts'

/** Whose session a request carries, and its token. Throws AppError `not_signed_in`. */
export function whoseSession(
  context: ServerContext,
  { user, cookies }: FastifyRequest,
): { shopId: string; userId: string; token: string } {
  const token = cookies[sessionCookie(context).name]
  if (token === undefined) throw new AppError('not_signed_in', 'Sign in to go on.')
  return { shopId: user.shopId, userId: user.userId, token }
}

/**
 * Tells people by mail what was changed of their account, so that whoever did not do it themselves learns of it. That it cannot
 * be told takes nothing back.
 */
export function tellOwner({ db, publicUrl }: ServerContext, mailer: Mailer) {
  return async ({ user, log }: FastifyRequest, kind: AccountMail['kind']): Promise<void> => {
    const shop = await findShop(db, user.shopId)
    await sendAccountMail(mailer, shop, { kind, to: user.email, url: `${publicUrl}/password` }).catch(
      (error: unknown) => log.error({ err: error }, 'a change of an account could not be told'),
    )
  }
} // prettier-ignore
