import { z } from 'zod'
import { AppError } from '../../../backend/platform/errors.ts'
import { listUsers } from '../../../backend/accounts/index.ts'
import type { Mailer } from '../../../backend/messages/index.ts'
import { openBulk } from '../../../backend/runs/index.ts'
import { findShop, readClock } from '../../../backend/shop/index.ts'
import {
  askLive,
  deleteDraft,
  findWorkflow,
  goLive,
  pauseWorkflow,
  resumeWorkflow,
  retireWorkflow,
  saveDraft,
} from '../../../backend/workflows/index.ts'
import {
  askLiveBody,
  bulkChangesResponse,
  enterBody,
  enterResponse,
  goLiveBody,
  moveResponse,
  overdueResponse,
  passedOverResponse,
  resumeBody,
  retireBody,
  retireResponse,
  saveDraftBody,
  saveDraftResponse,
} from '../../../contract/workflows.ts'
import { mayBuild } from '../../../contract/roles.ts'
import { differOnlyInWords } from '../../../core/workflow/onlyWords.ts'
import { startOfToday } from '../../../core/shared/localTime.ts'
import { enterByHand } from '../../../drivers/live/enterByHand.ts'
import { moveToLiveVersion } from '../../../drivers/live/bulk/moveToLiveVersion.ts'
import { overdueIn } from '../../../drivers/live/overdue.ts'
import { Programs } from '../../../drivers/live/programs.ts'
import { passedOverToday } from '../../../drivers/live/sweepDates.ts'
import { DOCUMENT_BODY_BYTES } from '../../bodies.ts'
import { sendAccountMail } from '../../accountMail.ts'
import type { App, ServerContext } from '../../context.ts'
import { requireMarketer, requireWriter } from '../../guards.ts'

const params = z.object({ id: z.string() })
/** A thousand addresses of the greatest length. */
const NAMES_BODY_BYTES = 512 * 1024
const published = z.object({ version: z.int() })
const marketer = { preHandler: requireMarketer }

/** Where it takes two to go live: one asks, and the others are told. */
function askRoutes(app: App, { db, publicUrl }: ServerContext, mailer: Mailer): void {
  app.post(
    '/api/workflows/:id/ask-live',
    { schema: { params, body: askLiveBody }, preHandler: requireWriter },
    async ({ user: { shopId, userId, name }, params: { id }, body: { revision } }, reply) => {
      await askLive(db, shopId, id, { revision, userId, name })
      const shop = await findShop(db, shopId)
      const url = `${publicUrl}/workflows/${id}/going-live`
      for (const one of await listUsers(db, shopId)) {
        if (one.id !== userId && mayBuild(one.role))
          await sendAccountMail(mailer, shop, { kind: 'askedLive', to: one.email, url })
      }
      return reply.status(204).send()
    },
  )
}

/** What changes the state of a workflow that exists. */
export function workflowStateRoutes(app: App, context: ServerContext, mailer: Mailer): void {
  const { db } = context
  app.put(
    '/api/workflows/:id/draft',
    {
      schema: { params, body: saveDraftBody, response: { 200: saveDraftResponse } },
      bodyLimit: DOCUMENT_BODY_BYTES,
      preHandler: requireWriter,
    },
    async ({ user, params: { id }, body }) => {
      if (!mayBuild(user.role)) {
        const { workflow } = await findWorkflow(db, user.shopId, id)
        if (!differOnlyInWords(workflow.draft, body.definition)) throw new AppError('not_allowed', 'Your account may change what stands in messages. Who gets them, from whom and when is for a marketer.') // prettier-ignore
      }
      return { draftRevision: await saveDraft(db, user.shopId, id, body.revision, body.definition) }
    },
  )

  app.post(
    '/api/workflows/:id/go-live',
    { schema: { params, body: goLiveBody, response: { 200: published } }, ...marketer },
    async ({ user: { shopId, userId }, params: { id }, body: { revision, includeToday } }) => {
      const { zone } = await findShop(db, shopId)
      const { now } = await readClock(db, shopId)
      const datesFrom = includeToday ? startOfToday(now, zone) : undefined
      return { version: await goLive(db, shopId, id, revision, userId, { datesFrom }) }
    },
  )

  askRoutes(app, context, mailer)

  app.get(
    '/api/workflows/:id/passed-over',
    { schema: { params, response: { 200: passedOverResponse } } },
    async ({ user: { shopId }, params: { id } }) => {
      const { workflow } = await findWorkflow(db, shopId, id)
      return passedOverToday(db, shopId, id, workflow.draft)
    },
  )

  app.post(
    '/api/workflows/:id/pause',
    { schema: { params }, ...marketer },
    async ({ user, params: { id } }, reply) => {
      await pauseWorkflow(db, user.shopId, id)
      return reply.status(204).send()
    },
  )

  app.get(
    '/api/workflows/:id/overdue',
    { schema: { params, response: { 200: overdueResponse } } },
    ({ user, params: { id } }) => overdueIn(db, new Programs(), user.shopId, id),
  )

  app.post(
    '/api/workflows/:id/resume',
    { schema: { params, body: resumeBody }, ...marketer },
    async ({ user, params: { id }, body }, reply) => {
      await resumeWorkflow(db, user.shopId, id, { ...body, person: user.name })
      return reply.status(204).send()
    },
  )

  app.delete(
    '/api/workflows/:id',
    { schema: { params }, ...marketer },
    async ({ user, params: { id } }, reply) => {
      await deleteDraft(db, user.shopId, id)
      return reply.status(204).send()
    },
  )
}

/** What is done to the people in a workflow. */
export function workflowPeopleRoutes(app: App, { db }: ServerContext): void {
  const programs = new Programs()

  app.get(
    '/api/workflows/:id/bulk-changes',
    { schema: { params, response: { 200: bulkChangesResponse } } },
    async ({ user, params: { id } }) => {
      await findWorkflow(db, user.shopId, id)
      return openBulk(db, user.shopId, [id])
    },
  )

  app.post(
    '/api/workflows/:id/retire',
    { schema: { params, body: retireBody, response: { 200: retireResponse } }, ...marketer },
    async ({ user, params: { id }, body }) => ({
      ended: await retireWorkflow(db, user.shopId, id, { ...body, person: user.name }),
    }),
  )

  app.post(
    '/api/workflows/:id/move-people',
    { schema: { params, response: { 200: moveResponse } }, ...marketer },
    ({ user, params: { id } }) => moveToLiveVersion(db, programs, user.shopId, id, user.name),
  )

  app.post(
    '/api/workflows/:id/enter',
    {
      schema: { params, body: enterBody, response: { 200: enterResponse } },
      bodyLimit: NAMES_BODY_BYTES,
      ...marketer,
    },
    ({ user, params: { id }, body }) =>
      enterByHand(db, programs, user.shopId, id, { ...body, person: user.name }),
  )
}
