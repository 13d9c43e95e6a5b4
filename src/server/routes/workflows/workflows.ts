import { z } from 'zod'
import { findShop } from '../../../backend/shop/index.ts'
import {
  createWorkflow,
  findVersion,
  findWorkflow,
  listVersions,
  numbersOf,
} from '../../../backend/workflows/index.ts'
import {
  newWorkflowBody,
  replayResponse,
  versionListItem,
  versionResponse,
  workflowNumbersResponse,
  workflowResponse,
} from '../../../contract/workflows.ts'
import { rowNumber } from '../../../contract/numbers.ts'
import { replay } from '../../../drivers/past/replay.ts'
import { replayNumbers } from '../../../drivers/past/replayNumbers.ts'
import { askerOf } from '../../asker.ts'
import { DOCUMENT_BODY_BYTES } from '../../bodies.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'
import { experimentRoutes } from './experiments.ts'
import { resultRoutes } from './results.ts'

const params = z.object({ id: z.string() })
const versionParams = params.extend({ version: rowNumber })
const created = z.object({ id: z.string() })

/** A workflow with its draft, versions and numbers; new ones; what one would have done. */
export function workflowRoutes(app: App, context: ServerContext): void {
  const { db, reading } = context
  resultRoutes(app, context)
  experimentRoutes(app, context)
  const marketer = { preHandler: requireMarketer }
  const bodyLimit = DOCUMENT_BODY_BYTES

  app.post(
    '/api/workflows',
    { schema: { body: newWorkflowBody, response: { 201: created } }, bodyLimit, ...marketer },
    async ({ user, body }, reply) => {
      const id = await createWorkflow(db, user.shopId, body.definition)
      return reply.status(201).send({ id })
    },
  )

  app.post(
    '/api/workflows/replay',
    { schema: { body: newWorkflowBody, response: { 200: replayResponse } }, bodyLimit },
    async ({ user, body: { definition } }, reply) => {
      const past = await reading.run(askerOf(reply), (tx, turn) =>
        replay(tx, user.shopId, definition, turn),
      )
      if (!past) return null
      const { lives, since, oneIn } = past
      return { numbers: replayNumbers(lives, oneIn), since, oneIn }
    },
  )

  app.get(
    '/api/workflows/:id',
    { schema: { params, response: { 200: workflowResponse } } },
    async ({ user, params: { id } }) => {
      const { workflow, live } = await findWorkflow(db, user.shopId, id)
      const { state, draft, draftRevision, liveVersion, changedAt, asked } = workflow
      const { secondPerson: isNeeded } = await findShop(db, user.shopId)
      const isAsked = asked?.revision === draftRevision
      const wish = isAsked ? { name: asked.name, isOwn: asked.userId === user.userId } : null
      const secondPerson = isNeeded ? { asked: wish } : null
      return { id, state, draft, draftRevision, liveVersion, live, changedAt, secondPerson }
    },
  )

  app.get(
    '/api/workflows/:id/numbers',
    { schema: { params, response: { 200: workflowNumbersResponse } } },
    async ({ user, params: { id } }, reply) => {
      await findWorkflow(db, user.shopId, id)
      return reading.run(askerOf(reply), (tx) => numbersOf(tx, user.shopId, id))
    },
  )

  app.get(
    '/api/workflows/:id/versions',
    { schema: { params, response: { 200: z.array(versionListItem) } } },
    async ({ user, params: { id } }) => {
      await findWorkflow(db, user.shopId, id)
      return listVersions(db, user.shopId, id)
    },
  )

  app.get(
    '/api/workflows/:id/versions/:version',
    { schema: { params: versionParams, response: { 200: versionResponse } } },
    async ({ user, params: { id, version } }) => ({
      version,
      definition: await findVersion(db, user.shopId, id, version),
    }),
  )
}
