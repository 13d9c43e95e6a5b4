import { z } from 'zod'
import {
  changePassword,
  endSessions,
  listSessions,
  newSecret,
  turnOff,
  turnOn,
} from '../../../backend/accounts/index.ts'
import { linkSecretsOf } from '../../../backend/platform/config.ts'
import type { Mailer } from '../../../backend/messages/index.ts'
import { findShop } from '../../../backend/shop/index.ts'
import { sendAccountMail } from '../../accountMail.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import {
  changePasswordBody,
  newSecondFactor,
  recoveryCodes,
  sessionsResponse,
  turnOffBody,
  turnOnBody,
} from '../../../contract/accounts.ts'
import type { App, ServerContext } from '../../context.ts'
import { sessionCookie } from '../../guards.ts'
import type { FastifyRequest } from 'fastify'

/** Somebody's own account: their password, and where they are signed in. */
export function accountRoutes(
  app: App,
  { db, publicUrl, config }: ServerContext,
  mailer: Mailer,
): void {
  const cookie = sessionCookie(publicUrl)
  const own = ({ user, cookies }: FastifyRequest) => {
    const token = cookies[cookie.name]
    if (token === undefined) throw new AppError('not_signed_in', 'Sign in to go on.')
    return { shopId: user.shopId, userId: user.userId, token }
  }

  /** Whoever did not do it themselves learns of it. That it cannot be told takes nothing back. */
  const tell = async ({ user, log }: FastifyRequest, kind: 'changed' | 'factorOn' | 'factorOff') => {
    const shop = await findShop(db, user.shopId)
    await sendAccountMail(mailer, shop, { kind, to: user.email, url: `${publicUrl}/password` }).catch(
      (error: unknown) => log.error({ err: error }, 'a change of an account could not be told'),
    )
  }

  app.put(
    '/api/account/password',
    { schema: { body: changePasswordBody }, config: { rateLimit: { max: 10, timeWindow: '1 minute' } } },
    async (request, reply) => {
      await changePassword(db, own(request), request.body)
      await tell(request, 'changed')
      return reply.status(204).send()
    },
  )

  const limited = { config: { rateLimit: { max: 10, timeWindow: '1 minute' } } }

  app.get('/api/account/second-factor', { schema: { response: { 200: newSecondFactor } } }, async ({ user }) => newSecret(user.email))

  app.put('/api/account/second-factor', { schema: { body: turnOnBody, response: { 200: recoveryCodes } }, ...limited }, async (request) => {
    const { user, body } = request
    const codes = await turnOn(db, { userId: user.userId, secrets: linkSecretsOf(config) }, body)
    await tell(request, 'factorOn')
    return { codes }
  })

  app.post('/api/account/second-factor/off', { schema: { body: turnOffBody }, ...limited }, async (request, reply) => {
    await turnOff(db, request.user, request.body.password)
    await tell(request, 'factorOff')
    return reply.status(204).send()
  })

  app.get('/api/account/sessions', { schema: { response: { 200: sessionsResponse } } }, (request) =>
    listSessions(db, own(request)),
  )

  app.delete('/api/account/sessions', async (request, reply) => {
    await endSessions(db, own(request), 'others')
    return reply.status(204).send()
  })

  app.delete(
    '/api/account/sessions/:id',
    { schema: { params: z.object({ id: z.string().max(64) }) } },
    async (request, reply) => {
      await endSessions(db, own(request), request.params)
      return reply.status(204).send()
    },
  )
} // prettier-ignore
