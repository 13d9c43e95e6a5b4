import { z } from 'zod'
import { actOnPerson, erasePerson, personData, readRetention, saveRetention, labelMany, labelsOf, personFacts, personTimeline } from '../../../backend/people/index.ts' // prettier-ignore
import { findShop } from '../../../backend/shop/index.ts'
import {
  labelAnswer,
  labelBody,
  labelQuery,
  labelsResponse,
  peopleCountBody,
  peopleCountResponse,
  peopleQuery,
  peopleResponse,
  personResponse,
  timelineQuery,
  timelineResponse,
} from '../../../contract/people.ts'
import { retentionSchema } from '../../../core/people/retention.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import { personDataPage } from '../../personPage.ts'
import { personActSchema } from '../../../core/people/act.ts'
import { actOnRun } from '../../../drivers/people/actOnRun.ts'
import { countPeopleWhere, idsWhere, peoplePage } from '../../../drivers/people/peopleWhere.ts'
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

  app.get('/api/people/:id/data', { schema: { params }, preHandler: requireMarketer }, async ({ user, params: { id } }, reply) => {
    const data = await reading.run(askerOf(reply), (tx) => personData(tx, user.shopId, id))
    return reply.header('content-disposition', 'attachment; filename="person.json"').send(data)
  })

  app.get('/api/people/:id/data-page', { schema: { params }, preHandler: requireMarketer }, async ({ user, params: { id } }, reply) => {
    const shop = await findShop(db, user.shopId)
    const data = await reading.run(askerOf(reply), (tx) => personData(tx, user.shopId, id))
    return reply.type('text/html; charset=utf-8').send(personDataPage(shop, data))
  })

  app.post(
    '/api/people/:id/erase',
    { schema: { params, body: z.strictObject({ id: z.string() }) }, preHandler: requireMarketer },
    async ({ user, params: { id }, body }, reply) => {
      if (body.id !== id) throw new AppError('bad_input', 'Type the id of the person who is to be erased.', [{ path: 'id', message: 'is another’s' }])
      await erasePerson(db, user.shopId, id, user.name)
      return reply.status(204).send()
    },
  )

  app.get('/api/retention', { schema: { response: { 200: retentionSchema } } }, ({ user }) => readRetention(db, user.shopId))

  app.put('/api/retention', { schema: { body: retentionSchema }, preHandler: requireMarketer }, async ({ user, body }, reply) => {
    await saveRetention(db, user.shopId, body)
    return reply.status(204).send()
  })

  app.post(
    '/api/people/:id/acts',
    { schema: { params, body: personActSchema }, preHandler: requireMarketer },
    async ({ user, params: { id }, body }, reply) => {
      if (body.did === 'erase') throw new AppError('bad_input', 'Erasing is asked for by itself.')
      await actOnPerson(db, user.shopId, id, { act: body, person: user.name })
      return reply.status(204).send()
    },
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

  app.get(
    '/api/labels',
    { schema: { querystring: labelQuery, response: { 200: labelsResponse } } },
    ({ user, query: { kind } }, reply) =>
      reading.run(askerOf(reply), (tx) => labelsOf(tx, user.shopId, kind)),
  )

  app.post(
    '/api/labels',
    { schema: { body: labelBody, response: { 200: labelAnswer } }, bodyLimit, preHandler: requireMarketer },
    async ({ user, body: { kind, name, change, people } }, reply) => {
      const shop = await findShop(db, user.shopId)
      const names = Array.isArray(people)
        ? people
        : await reading.run(askerOf(reply), (tx) => idsWhere(tx, shop, people))
      const label = { did: kind, name, change }
      return labelMany(db, user.shopId, { names, label, person: user.name })
    },
  )
} // prettier-ignore
