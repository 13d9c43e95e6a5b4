import { addressBook } from '../../../backend/addresses/index.ts'
import { z } from 'zod'
import {
  earnedSince,
  listWorkflows,
  noNumbers,
  numbersOfAll,
  workflowNames,
  type WorkflowRow,
} from '../../../backend/workflows/index.ts'
import { findShop } from '../../../backend/shop/index.ts'
import {
  liveWorkflow,
  workflowName,
  workflowListItem,
  workflowListQuery,
  type WorkflowListItem,
} from '../../../contract/workflows.ts'
import { sortedByAnswer } from '../../../core/check/answers.ts'
import { addressFindings, type AddressBook } from '../../../core/check/message/addressFindings.ts'
import { brandFindings } from '../../../core/check/shop/brandFindings.ts'
import { crossFindings, type OtherWorkflow } from '../../../core/check/shop/crossFindings.ts'
import { noticeFindings, type NoticeSender } from '../../../core/check/shop/noticeFindings.ts'
import { noticeStates } from '../../../core/check/shop/notices.ts'
import { DAY_MS } from '../../../core/shared/duration.ts'
import { goLiveFindings } from '../../../core/check/goLive.ts'
import { coverage } from '../../../core/rehearsal/examples.ts'
import type { Brand } from '../../../core/messages/brand.ts'
import { remembered } from '../../../core/shared/remembered.ts'
import type { WordContext } from '../../../core/words/conditions.ts'
import { triggerWords } from '../../../core/words/triggers.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import type { App, ServerContext } from '../../context.ts'
import { figures } from '../../figures.ts'
import { withTitles } from './titles.ts'
import { KeptDrafts } from '../../keptDrafts.ts'

/** The workflows of a shop: the list with what each does and lacks, and what is live. */
export function workflowListRoutes(app: App, context: ServerContext): void {
  const { db } = context
  const kept = new KeptDrafts()

  app.get(
    '/api/workflows',
    { schema: { querystring: workflowListQuery, response: { 200: z.array(workflowListItem) } } },
    async (request, reply) => {
      const { user } = request
      const { days } = request.query
      const shop = await findShop(db, user.shopId)
      const rows = await listWorkflows(db, user.shopId)
      const counted = await figures(context, request, reply, {
        key: `list of ${days} days`,
        count: async (tx, now) => ({
          numbers: [...(await numbersOfAll(tx, user.shopId, now - days * DAY_MS))],
          earned: [...(await earnedSince(tx, user.shopId, now - days * DAY_MS))],
        }),
      })
      const [numbers, earned] = [new Map(counted.numbers), new Map(counted.earned)]
      const live = liveOf(rows)
      const book = await addressBook(db, user.shopId)
      const senders = noticeStates(shop.notices, live)
      const drafts = kept.of(
        user.shopId,
        rows.map(({ workflow }) => workflow),
      )
      const shown = rows.map((row, index) => shownOf(row, drafts[index] ?? row.workflow.draft))
      const names = new Map(rows.map(({ workflow: { id } }, index) => [id, shown[index]?.name]))
      const words = await withTitles(db, { ...shop, names }, (said) => {
        for (const { trigger } of shown) triggerWords(trigger, said)
      })
      return rows.map((row, index) => ({
        ...listItem(row, drafts[index] ?? row.workflow.draft, {
          words,
          live,
          book,
          senders,
          brand: shop.brand,
        }),
        numbers: numbers.get(row.workflow.id) ?? noNumbers(),
        earned: earned.get(row.workflow.id) ?? { orders: 0, revenueMinor: 0 },
      }))
    },
  )

  app.get(
    '/api/workflow-names',
    { schema: { response: { 200: z.array(workflowName) } } },
    ({ user }) => workflowNames(db, user.shopId),
  )

  app.get(
    '/api/live-workflows',
    { schema: { response: { 200: z.array(liveWorkflow) } } },
    async ({ user }) => liveOf(await listWorkflows(db, user.shopId)),
  )
}

interface ListRow {
  workflow: WorkflowRow
  live: Definition | null
}

/** What the check finds in a draft by itself takes most of a list's time, and is the same until it is saved. */
const ownFindings = remembered(goLiveFindings)

/** What is live, for the checks across workflows. */
function liveOf(rows: readonly ListRow[]): OtherWorkflow[] {
  return rows.flatMap(({ workflow: { id, state }, live }) =>
    live && state === 'live' ? [{ id, name: live.name, definition: live }] : [],
  )
}

/** What of a shop is needed to say something about each of its workflows. */
interface ListShop {
  words: WordContext
  live: readonly OtherWorkflow[]
  book: AddressBook
  senders: readonly NoticeSender[]
  brand: Brand
}

/** What is told of one: a draft as it stands, everything else as it runs. */
function shownOf({ workflow, live }: ListRow, draft: Definition): Definition {
  return workflow.state === 'draft' ? draft : (live ?? draft)
}

function listItem(
  row: ListRow,
  draft: Definition,
  shop: ListShop,
): Omit<WorkflowListItem, 'numbers' | 'earned'> {
  const { workflow, live } = row
  const { id, state, liveVersion, changedAt } = workflow
  const shown = shownOf(row, draft)
  const all = [
    ...ownFindings(draft),
    ...addressFindings(draft, shop.book),
    ...crossFindings(draft, id, shop.live),
    ...noticeFindings(draft, id, shop.senders),
    ...brandFindings(draft, shop.brand),
  ]
  const findings = sortedByAnswer(all, draft.answered).open
  const { all: ways, missing } = coverage(draft, draft.examples ?? [])
  return {
    id,
    name: draft.name,
    description: draft.description,
    labels: draft.labels ?? [],
    state,
    priority: shown.priority,
    trigger: triggerKey(shown.trigger),
    tried: { ways: ways - missing.length, of: ways, examples: draft.examples?.length ?? 0 },
    startsWhen: triggerWords(shown.trigger, shop.words),
    liveVersion,
    hasUnpublishedChanges: live !== null && JSON.stringify(live) !== JSON.stringify(draft),
    findings: {
      errors: findings.filter(({ severity }) => severity === 'error').length,
      warnings: findings.filter(({ severity }) => severity === 'warning').length,
    },
    changedAt,
  }
}

/** What workflows that may concern the same people share: the event, or the date they go by. */
function triggerKey(trigger: Definition['trigger']): string {
  if (trigger.kind === 'event') return trigger.event
  return trigger.kind === 'date' ? trigger.field : 'by hand'
}
