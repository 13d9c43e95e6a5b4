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
export function accountRoutes(app: App, { db, publicUrl, config }: ServerContext): void {
  const cookie = sessionCookie(publicUrl)
  const own = ({ user, cookies }: FastifyRequest) => {
    const token = cookies[cookie.name]
    if (token === undefined) throw new AppError('not_signed_in', 'Sign in to go on.')
    return { shopId: user.shopId, userId: user.userId, token }
  }

  app.put(
    '/api/account/password',
    { schema: { body: changePasswordBody }, config: { rateLimit: { max: 10, timeWindow: '1 minute' } } },
    async (request, reply) => {
      await changePassword(db, own(request), request.body)
      return reply.status(204).send()
    },
  )

  const limited = { config: { rateLimit: { max: 10, timeWindow: '1 minute' } } }

  app.get('/api/account/second-factor', { schema: { response: { 200: newSecondFactor } } }, async ({ user }) => newSecret(user.email))

  app.put('/api/account/second-factor', { schema: { body: turnOnBody, response: { 200: recoveryCodes } }, ...limited }, async ({ user, body }) => ({
    codes: await turnOn(db, { userId: user.userId, secrets: linkSecretsOf(config) }, body),
  }))

  app.post('/api/account/second-factor/off', { schema: { body: turnOffBody }, ...limited }, async ({ user, body }, reply) => {
    await turnOff(db, user, body.password)
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
