import { z } from 'zod'
import {
  actOnPerson,
  personFacts,
  personTimeline,
  reachable,
} from '../../../backend/people/index.ts'
import { findShop } from '../../../backend/shop/index.ts'
import {
  peopleCountBody,
  peopleCountResponse,
  peopleQuery,
  peopleResponse,
  personResponse,
  reachableQuery,
  reachableResponse,
  timelineQuery,
  timelineResponse,
} from '../../../contract/people.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { personActSchema } from '../../../core/people/act.ts'
import { actOnRun } from '../../../drivers/people/actOnRun.ts'
import { countPeopleWhere, peoplePage } from '../../../drivers/people/peopleWhere.ts'
import { segmentsOf } from '../../../drivers/people/segmentsOf.ts'
import { Programs } from '../../../drivers/live/programs.ts'
import { askerOf } from '../../asker.ts'
import { DOCUMENT_BODY_BYTES as bodyLimit } from '../../bodies.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

const params = z.object({ id: z.string().max(200) })
const runParams = z.object({ id: z.coerce.number().int().positive() })

/** People: who they are, what happened to them, and what somebody of the shop does to them. */
export function peopleRoutes(app: App, { db, reading }: ServerContext): void {
  const programs = new Programs()

  app.post(
    '/api/people/search',
    { schema: { body: peopleQuery, response: { 200: peopleResponse } }, bodyLimit },
    async ({ user, body }, reply) => {
      const shop = await findShop(db, user.shopId)
      return reading.run(askerOf(reply), (tx) => peoplePage(tx, shop, body))
    },
  )

  app.post(
    '/api/people/count',
    { schema: { body: peopleCountBody, response: { 200: peopleCountResponse } }, bodyLimit },
    async ({ user, body }, reply) => {
      const shop = await findShop(db, user.shopId)
      return reading.run(askerOf(reply), (tx) => countPeopleWhere(tx, shop, body))
    },
  )

  app.get(
    '/api/people/:id',
    { schema: { params, response: { 200: personResponse } } },
    async ({ user, params: { id } }, reply) => {
      const shop = await findShop(db, user.shopId)
      return reading.run(askerOf(reply), async (tx) => ({
        ...(await personFacts(tx, shop, id)),
        segments: await segmentsOf(tx, shop, id),
      }))
    },
  )

  app.get(
    '/api/people/:id/timeline',
    { schema: { params, querystring: timelineQuery, response: { 200: timelineResponse } } },
    async ({ user, params: { id }, query }, reply) => {
      const shop = await findShop(db, user.shopId)
      return reading.run(askerOf(reply), (tx) => personTimeline(tx, shop, id, query))
    },
  )

  app.post(
    '/api/people/:id/acts',
    { schema: { params, body: personActSchema }, preHandler: requireMarketer },
    async ({ user, params: { id }, body }, reply) => {
      if (body.did === 'erase') throw new AppError('bad_input', 'Erasing is asked for by itself.')
      await actOnPerson(db, user.shopId, id, { act: body, person: user.name })
      return reply.status(204).send()
    },
  )

  app.get(
    '/api/reachable',
    { schema: { querystring: reachableQuery, response: { 200: reachableResponse } } },
    async ({ user, query }) => reachable(db, await findShop(db, user.shopId), query),
  )

  app.post(
    '/api/runs/:id/acts',
    {
      schema: { params: runParams, body: z.object({ did: z.enum(['takeOut', 'endWait']) }) },
      preHandler: requireMarketer,
    },
    async ({ user, params: { id }, body: { did } }, reply) => {
      await actOnRun(db, programs, user.shopId, id, { did, person: user.name })
      return reply.status(204).send()
    },
  )
}
