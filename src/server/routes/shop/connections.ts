import { z } from 'zod'
import { addConnection, changeConnection, findConnection, lastBodies, listConnections, newAddress, removeConnection, replayRefused, tryMapping, type Connection, type Evaluator } from '../../../backend/connections/index.ts' // prettier-ignore
import {
  connectionAddress,
  connectionChange,
  connectionDetail,
  connectionName,
  connectionSummary,
  replayAnswer,
  tryAnswer,
  tryBody,
} from '../../../contract/connections.ts'
import { realNow } from '../../../backend/platform/realTime.ts'
import { readCloudEvent } from '../../../core/events/cloudEvent.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

const params = z.object({ id: z.string().max(100) })
const SHOWN = 30

/** Connections: their addresses, mappings and signatures, what came by them, and having it mapped once more. */
export function connectionRoutes(
  app: App,
  { db, publicUrl }: ServerContext,
  evaluator: Evaluator,
): void {
  const marketer = { preHandler: requireMarketer }
  const addressOf = (token: string): string => `${publicUrl}/v1/in/${token}`

  app.get(
    '/api/connections',
    { schema: { response: { 200: z.array(connectionSummary) } }, ...marketer },
    async ({ user }) => (await listConnections(db, user.shopId)).map(summaryOf),
  )

  app.post(
    '/api/connections',
    { schema: { body: connectionName, response: { 201: connectionAddress } }, ...marketer },
    async ({ user, body: { name } }, reply) => {
      const { id, token } = await addConnection(db, user.shopId, name)
      return reply.status(201).send({ id, address: addressOf(token) })
    },
  )

  app.get(
    '/api/connections/:id',
    { schema: { params, response: { 200: connectionDetail } }, ...marketer },
    async ({ user: { shopId }, params: { id } }) => {
      const found = await findConnection(db, shopId, id)
      const bodies = await lastBodies(db, shopId, id, SHOWN)
      return { ...summaryOf(found), mapping: found.mapping, rule: ruleOf(found), ...pullOf(found), bodies }
    },
  )

  app.put(
    '/api/connections/:id',
    { schema: { params, body: connectionChange }, ...marketer },
    async ({ user, params: { id }, body }, reply) => {
      const { name, mapping, isOn, signature, pull, fetchNow } = body
      const before = pull ? (await findConnection(db, user.shopId, id)).pull : null
      await changeConnection(db, user.shopId, id, {
        ...(name !== undefined && { name }),
        ...(mapping !== undefined && { mapping }),
        ...(isOn !== undefined && { isOn }),
        ...(signature !== undefined && { signature }),
        ...(pull !== undefined && {
          // Another address begins anew.
          pull: pull && { ...pull, authorization: pull.authorization ?? before?.authorization ?? '' },
          nextPullAt: pull ? realNow() : null,
          pullState: null,
        }),
        ...(fetchNow && { nextPullAt: realNow() }),
      })
      return reply.status(204).send()
    },
  )

  app.post(
    '/api/connections/:id/address',
    { schema: { params, response: { 200: connectionAddress } }, ...marketer },
    async ({ user, params: { id } }) => ({
      id,
      address: addressOf(await newAddress(db, user.shopId, id)),
    }),
  )

  app.post(
    '/api/connections/:id/try',
    { schema: { params, body: tryBody, response: { 200: tryAnswer } }, bodyLimit: 2 * 1024 * 1024, ...marketer },
    async ({ params: { id }, body }) => {
      const tried = await tryMapping(evaluator, { connectionId: id, ...body }, problemsOf)
      return { ...tried, events: tried.events.map((event) => ({ ...event })) }
    },
  )

  app.post(
    '/api/connections/:id/replay',
    { schema: { params, response: { 200: replayAnswer } }, ...marketer },
    async ({ user, params: { id } }) =>
      replayRefused(db, evaluator, await findConnection(db, user.shopId, id)),
  )

  app.delete('/api/connections/:id', { schema: { params }, ...marketer }, async ({ user, params: { id } }, reply) => {
    await removeConnection(db, user.shopId, id)
    return reply.status(204).send()
  })
} // prettier-ignore

function problemsOf(event: object): { path: string; message: string }[] {
  const read = readCloudEvent(event)
  return read.ok ? [] : read.problems
}

const summaryOf = ({ id, name, isOn, createdAt, signature }: Connection) => ({
  id,
  name,
  isOn,
  createdAt,
  signature: signature?.kind ?? ('none' as const),
})

function ruleOf({ signature }: Connection) {
  if (signature === null) return null
  const { kind, secret } = signature
  const own = kind === 'hmac' ? signature : { header: '', encoding: '', prefix: '' }
  const { header, encoding, prefix } = own
  return { kind, header, encoding, prefix, secretEnd: secret.slice(-4) }
}

function pullOf({ pull, pullState }: Connection) {
  if (pull === null) return { pull: null, pulled: null }
  const { authorization, ...rule } = pull
  if (pullState === null)
    return { pull: { ...rule, isAuthorized: authorization !== '' }, pulled: null }
  const { at, problem, pages, fresh, refused } = pullState
  return {
    pull: { ...rule, isAuthorized: authorization !== '' },
    pulled: { at, problem, pages, fresh, refused },
  }
}
