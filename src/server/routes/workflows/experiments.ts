import { z } from 'zod'
import { readClock } from '../../../backend/shop/index.ts'
import { AppError } from '../../../backend/platform/errors.ts'
import {
  decideTest,
  findWorkflow,
  listTestDecisions,
  workflowExperiments,
} from '../../../backend/workflows/index.ts'
import {
  decideBody,
  experimentsResponse,
  trafficBody,
  trafficResponse,
} from '../../../contract/experiments.ts'
import { saveDraftResponse } from '../../../contract/workflows.ts'
import { testTraffic } from '../../../drivers/past/testTraffic.ts'
import { askerOf } from '../../asker.ts'
import { DOCUMENT_BODY_BYTES as bodyLimit } from '../../bodies.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer } from '../../guards.ts'

const params = z.object({ id: z.string() })

/** What experiments have come to, and what is decided of them. */
export function experimentRoutes(app: App, { db, reading }: ServerContext): void {
  app.get(
    '/api/workflows/:id/experiments',
    { schema: { params, response: { 200: experimentsResponse } } },
    async ({ user: { shopId }, params: { id } }, reply) => {
      await findWorkflow(db, shopId, id)
      const { now } = await readClock(db, shopId)
      return reading.run(askerOf(reply), async (tx) => ({
        ...(await workflowExperiments(tx, { shopId, workflowId: id, now })),
        decisions: await listTestDecisions(tx, shopId, id),
      }))
    },
  )

  app.post(
    '/api/workflows/:id/experiments/:step/decision',
    {
      schema: {
        params: params.extend({ step: z.string() }),
        body: decideBody,
        response: { 200: saveDraftResponse },
      },
      preHandler: requireMarketer,
    },
    async ({ user: { shopId, userId }, params: { id, step }, body }, reply) => {
      await findWorkflow(db, shopId, id)
      const { now } = await readClock(db, shopId)
      const { reports } = await reading.run(askerOf(reply), (tx) =>
        workflowExperiments(tx, { shopId, workflowId: id, now }),
      )
      const report = reports.find((one) => one.step === step)
      if (!report) throw new AppError('not_found', 'This workflow has no such test.')
      const draftRevision = await decideTest(db, {
        shopId,
        workflowId: id,
        userId,
        report,
        ...body,
      })
      return { draftRevision }
    },
  )

  app.post(
    '/api/experiments/traffic',
    { schema: { body: trafficBody, response: { 200: trafficResponse } }, bodyLimit },
    ({ user: { shopId }, body: { definition, step } }, reply) =>
      reading.run(askerOf(reply), (tx) => testTraffic(tx, shopId, definition, step)),
  )
}
