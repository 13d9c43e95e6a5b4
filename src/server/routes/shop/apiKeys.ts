import { z } from 'zod'
import { createApiKey, listApiKeys, revokeApiKey } from '../../../backend/accounts/index.ts'
import { apiKeyResponse, newApiKeyBody, newApiKeyResponse } from '../../../contract/session.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer, requireOwner } from '../../guards.ts'

const params = z.object({ id: z.string() })

/** The keys with which the shop's own systems send events. */
export function apiKeyRoutes(app: App, { db }: ServerContext): void {
  const owner = { preHandler: requireOwner }

  app.get(
    '/api/keys',
    { schema: { response: { 200: z.array(apiKeyResponse) } }, preHandler: requireMarketer },
    ({ user }) => listApiKeys(db, user.shopId),
  )

  app.post(
    '/api/keys',
    { schema: { body: newApiKeyBody, response: { 201: newApiKeyResponse } }, ...owner },
    async ({ user, body }, reply) => {
      const key = await createApiKey(db, user.shopId, body.name, body.scopes)
      return reply.status(201).send(key)
    },
  )

  app.delete(
    '/api/keys/:id',
    { schema: { params }, ...owner },
    async ({ user, params: { id } }, reply) => {
      await revokeApiKey(db, user.shopId, id)
      return reply.status(204).send()
    },
  )
}
