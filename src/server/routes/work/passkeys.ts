import type { AuthenticationResponseJSON, RegistrationResponseJSON } from '@simplewebauthn/server'
import { z } from 'zod'
import {
  askForPasskey,
  beginPasskey,
  keepPasskey,
  listPasskeys,
  removePasskey,
  signInByPasskey,
  signOut,
} from '../../../backend/accounts/index.ts'
import type { Mailer } from '../../../backend/messages/index.ts'
import {
  creationOptions,
  keepPasskeyBody,
  newPasskeyBody,
  passkeysResponse,
  requestOptions,
  signedByPasskey,
} from '../../../contract/passkeys.ts'
import type { App, ServerContext } from '../../context.ts'
import { sessionCookie } from '../../guards.ts'
import { tellOwner, whoseSession } from '../../ownAccount.ts'

const limited = { config: { rateLimit: { max: 20, timeWindow: '1 minute' } } }

/** Signing in with a passkey, for who is not signed in. */
export function passkeySessionRoutes(app: App, context: ServerContext): void {
  const { db, publicUrl, config } = context
  const cookie = sessionCookie(context)

  app.post('/api/session/passkey/options', { schema: { response: { 200: requestOptions } }, ...limited }, async () => ({ ...(await askForPasskey(db, publicUrl)) }))

  app.post('/api/session/passkey', { schema: { body: signedByPasskey }, ...limited }, async ({ body, headers, cookies }, reply) => {
    const old = cookies[cookie.name]
    const agent = headers['user-agent'] ?? ''
    const session = await signInByPasskey(db, body as AuthenticationResponseJSON, { agent, publicUrl, config })
    if (old) await signOut(db, old)
    return reply.setCookie(cookie.name, session.token, cookie.options).status(204).send()
  })
} // prettier-ignore

/** Somebody's own passkeys. */
export function passkeyRoutes(app: App, context: ServerContext, mailer: Mailer): void {
  const { db, publicUrl } = context
  const tell = tellOwner(context, mailer)

  app.get('/api/account/passkeys', { schema: { response: { 200: passkeysResponse } } }, ({ user }) =>
    listPasskeys(db, user.userId),
  )

  app.post('/api/account/passkeys/options', { schema: { body: newPasskeyBody.pick({ password: true }), response: { 200: creationOptions } }, ...limited }, async (request) => {
    const { password } = request.body
    return { ...(await beginPasskey(db, whoseSession(context, request), { password, publicUrl })) }
  })

  app.post('/api/account/passkeys', { schema: { body: keepPasskeyBody }, ...limited }, async (request, reply) => {
    const { name, made } = request.body
    await keepPasskey(db, request.user.userId, { name, response: made as RegistrationResponseJSON, publicUrl })
    await tell(request, 'passkeyMade')
    return reply.status(204).send()
  })

  app.delete('/api/account/passkeys/:id', { schema: { params: z.object({ id: z.string().max(1400) }) } }, async (request, reply) => {
    await removePasskey(db, request.user.userId, request.params.id)
    await tell(request, 'passkeyGone')
    return reply.status(204).send()
  })
} // prettier-ignore
