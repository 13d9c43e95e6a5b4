import { z } from 'zod'
import {
  createWorkflow,
  deleteDraft,
  findWorkflow,
  goLive,
  listWorkflows,
  noNumbers,
  numbersOf,
  numbersOfAll,
  pauseWorkflow,
  resumeWorkflow,
  saveDraft,
  type WorkflowRow,
} from '../../backend/workflows/index.ts'
import { findShop } from '../../backend/shop/index.ts'
import {
  goLiveBody,
  newWorkflowBody,
  saveDraftBody,
  saveDraftResponse,
  workflowListItem,
  workflowNumbersResponse,
  workflowResponse,
  type WorkflowListItem,
  type WorkflowNumbers,
} from '../../contract/workflows.ts'
import { goLiveFindings } from '../../core/check/goLive.ts'
import { EVENT_TYPES } from '../../core/events/eventTypes.ts'
import { conditionWords } from '../../core/words/conditions.ts'
import type { WordContext } from '../../core/words/conditions.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import type { App, ServerContext } from '../context.ts'
import { requireMarketer } from '../guards.ts'

const params = z.object({ id: z.string() })
const created = z.object({ id: z.string() })
const published = z.object({ version: z.int() })

/** Workflows: the list, one with its draft and numbers, and its states. */
export function workflowRoutes(app: App, { db }: ServerContext): void {
  const marketer = { preHandler: requireMarketer }

  app.get(
    '/api/workflows',
    { schema: { response: { 200: z.array(workflowListItem) } } },
    async ({ user }) => {
      const shop = await findShop(db, user.shopId)
      const rows = await listWorkflows(db, user.shopId)
      const numbers = await numbersOfAll(db, user.shopId)
      return rows.map((row) => listItem(row, shop, numbers.get(row.workflow.id) ?? noNumbers()))
    },
  )

  app.post(
    '/api/workflows',
    { schema: { body: newWorkflowBody, response: { 201: created } }, ...marketer },
    async ({ user, body }, reply) => {
      const id = await createWorkflow(db, user.shopId, body.definition)
      return reply.status(201).send({ id })
    },
  )

  app.get(
    '/api/workflows/:id',
    { schema: { params, response: { 200: workflowResponse } } },
    async ({ user, params: { id } }) => {
      const { workflow, live } = await findWorkflow(db, user.shopId, id)
      const { state, draft, draftRevision, liveVersion, changedAt } = workflow
      return { id, state, draft, draftRevision, liveVersion, live, changedAt }
    },
  )

  app.get(
    '/api/workflows/:id/numbers',
    { schema: { params, response: { 200: workflowNumbersResponse } } },
    async ({ user, params: { id } }) => {
      await findWorkflow(db, user.shopId, id)
      return numbersOf(db, user.shopId, id)
    },
  )
}

/** What changes the state of a workflow that exists. */
export function workflowStateRoutes(app: App, { db }: ServerContext): void {
  const marketer = { preHandler: requireMarketer }

  app.put(
    '/api/workflows/:id/draft',
    { schema: { params, body: saveDraftBody, response: { 200: saveDraftResponse } }, ...marketer },
    async ({ user, params: { id }, body }) => ({
      draftRevision: await saveDraft(db, user.shopId, id, body.revision, body.definition),
    }),
  )

  app.post(
    '/api/workflows/:id/go-live',
    { schema: { params, body: goLiveBody, response: { 200: published } }, ...marketer },
    async ({ user, params: { id }, body }) => ({
      version: await goLive(db, user.shopId, id, body.revision, user.userId),
    }),
  )

  app.post(
    '/api/workflows/:id/pause',
    { schema: { params }, ...marketer },
    async ({ user, params: { id } }, reply) => {
      await pauseWorkflow(db, user.shopId, id)
      return reply.status(204).send()
    },
  )

  app.post(
    '/api/workflows/:id/resume',
    { schema: { params }, ...marketer },
    async ({ user, params: { id } }, reply) => {
      await resumeWorkflow(db, user.shopId, id)
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

function listItem(
  { workflow, live }: { workflow: WorkflowRow; live: Definition | null },
  context: WordContext,
  numbers: WorkflowNumbers,
): WorkflowListItem {
  const { id, state, draft, liveVersion, changedAt } = workflow
  const shown = state === 'draft' ? draft : (live ?? draft)
  const findings = goLiveFindings(draft)
  return {
    id,
    name: draft.name,
    description: draft.description,
    state,
    priority: shown.priority,
    trigger: shown.trigger.event,
    startsWhen: startsWhen(shown, context),
    liveVersion,
    hasUnpublishedChanges: live !== null && JSON.stringify(live) !== JSON.stringify(draft),
    findings: {
      errors: findings.filter(({ severity }) => severity === 'error').length,
      warnings: findings.filter(({ severity }) => severity === 'warning').length,
    },
    numbers,
    changedAt,
  }
}

function startsWhen({ trigger }: Definition, context: WordContext): string {
  const { label } = EVENT_TYPES[trigger.event]
  return trigger.filter ? `${label}, ${conditionWords(trigger.filter, context)}` : label
}
