import { z } from 'zod'
import {
  changePassword,
  endSessions,
  listSessions,
  newSecret,
  strengthen,
  turnOff,
  turnOn,
} from '../../../backend/accounts/index.ts'
import { linkSecretsOf } from '../../../backend/platform/config.ts'
import type { Mailer } from '../../../backend/messages/index.ts'
import { tellOwner, whoseSession } from '../../ownAccount.ts'
import {
  changePasswordBody,
  newSecondFactor,
  recoveryCodes,
  sessionsResponse,
  turnOffBody,
  turnOnBody,
} from '../../../contract/accounts.ts'
import type { App, ServerContext } from '../../context.ts'
import type { FastifyRequest } from 'fastify'

/** Somebody's own account: their password, and where they are signed in. */
export function accountRoutes(
  app: App,
  context: ServerContext,
  mailer: Mailer,
): void {
  const { db, config } = context
  const own = (request: FastifyRequest) => whoseSession(context, request)
  const tell = tellOwner(context, mailer)

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
    // That was a code of the device, so this session has it behind it, too.
    await strengthen(db, own(request).token)
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
