import { randomUUID } from 'node:crypto'
import { and, asc, eq, sql } from 'drizzle-orm'
import { addressFindings } from '../../core/check/message/addressFindings.ts'
import { exampleFindings } from '../../core/check/exampleFindings.ts'
import { goLiveFindings } from '../../core/check/goLive.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { addressBook } from '../addresses/index.ts'
import type { Database, Db, Transaction } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { findShop, readClock } from '../shop/index.ts'
import { noteState } from './stateLog.ts'
import { watchDates } from './watchDates.ts'
import { workflows, workflowVersions, type AskedLive } from './tables.ts'

export type WorkflowRow = typeof workflows.$inferSelect

/** All workflows of a shop with their live definitions, oldest first. */
export async function listWorkflows(
  db: Db,
  shopId: string,
): Promise<{ workflow: WorkflowRow; live: Definition | null }[]> {
  return db
    .select({ workflow: workflows, live: workflowVersions.definition })
    .from(workflows)
    .leftJoin(workflowVersions, liveVersionOf)
    .where(eq(workflows.shopId, shopId))
    .orderBy(asc(workflows.place))
}

/** What the workflows of a shop are called, oldest first. */
export async function workflowNames(
  db: Db,
  shopId: string,
): Promise<{ id: string; name: string }[]> {
  return db
    .select({ id: workflows.id, name: sql<string>`${workflows.draft}->>'name'` })
    .from(workflows)
    .where(eq(workflows.shopId, shopId))
    .orderBy(asc(workflows.place))
}

const liveVersionOf = and(
  eq(workflowVersions.shopId, workflows.shopId),
  eq(workflowVersions.workflowId, workflows.id),
  eq(workflowVersions.version, workflows.liveVersion),
)

/** One workflow with its live definition. Throws AppError `not_found`. */
export async function findWorkflow(
  db: Db,
  shopId: string,
  id: string,
): Promise<{ workflow: WorkflowRow; live: Definition | null }> {
  const [row] = await db
    .select({ workflow: workflows, live: workflowVersions.definition })
    .from(workflows)
    .leftJoin(workflowVersions, liveVersionOf)
    .where(and(eq(workflows.shopId, shopId), eq(workflows.id, id)))
  if (!row) throw new AppError('not_found', 'There is no such workflow.')
  return row
}

/** Adds a workflow as a draft and returns its id. */
export async function createWorkflow(
  db: Db,
  shopId: string,
  definition: Definition,
): Promise<string> {
  const { now } = await readClock(db, shopId)
  const id = randomUUID()
  await db.insert(workflows).values({
    shopId,
    id,
    state: 'draft',
    draft: definition,
    draftRevision: 0,
    createdAt: now,
    changedAt: now,
  })
  return id
}

/**
 * Saves a draft that was made on `revision`. Returns the new revision. Throws AppError `conflict`
 * when somebody else has saved since: nothing is overwritten silently.
 */
export async function saveDraft(
  db: Db,
  shopId: string,
  id: string,
  revision: number,
  definition: Definition,
): Promise<number> {
  const { now } = await readClock(db, shopId)
  const [saved] = await db
    .update(workflows)
    .set({ draft: definition, draftRevision: revision + 1, changedAt: now })
    .where(
      and(
        eq(workflows.shopId, shopId),
        eq(workflows.id, id),
        eq(workflows.draftRevision, revision),
      ),
    )
    .returning({ revision: workflows.draftRevision })
  if (saved) return saved.revision
  await findWorkflow(db, shopId, id)
  throw new AppError(
    'conflict',
    'Somebody else has changed this draft in the meantime. Your version is still on your screen; reload to see theirs.',
  )
}

/**
 * Publishes the draft as a new version and switches the workflow on; a paused one stays paused, for
 * resuming asks what becomes of what is overdue. Throws AppError `not_ready` with the findings that stop
 * it, `conflict` when the draft is no longer the one that was looked at, or the workflow is retired.
 * `datesFrom`: moments of a date trigger after this count, though they are before now.
 */
export async function goLive(
  db: Database,
  shopId: string,
  id: string,
  revision: number,
  publishedBy: string,
  { datesFrom }: { datesFrom?: Instant | undefined } = {},
): Promise<number> {
  return db.transaction(async (tx) => {
    const workflow = await lockWorkflow(tx, shopId, id)
    if (workflow.draftRevision !== revision) {
      throw new AppError(
        'conflict',
        'The draft has changed since you looked at it. Look again, then go live.',
      )
    }
    if (workflow.state === 'retired') {
      throw new AppError('conflict', 'This workflow is retired for good. Duplicate it to go on.')
    }
    const shop = await findShop(tx, shopId)
    if (shop.secondPerson) askForSecond(workflow, publishedBy)
    const { draft } = workflow
    const findings = [
      ...goLiveFindings(draft),
      ...addressFindings(draft, await addressBook(tx, shopId)),
    ]
    const ownErrors = findings.filter(({ severity }) => severity === 'error')
    // Who is made up is held out of nothing.
    const heldOut = { ...shop, holdout: null }
    const errors = ownErrors.length > 0 ? ownErrors : exampleFindings(draft, heldOut)
    if (errors.length > 0) {
      const problems = errors.map(({ code, title, detail }) => ({
        path: code,
        code,
        message: `${title} ${detail}`,
      }))
      throw new AppError('not_ready', 'This workflow cannot go live yet.', problems)
    }
    const { now } = await readClock(tx, shopId)
    const version = (await newestVersion(tx, shopId, id)) + 1
    await tx.insert(workflowVersions).values({
      shopId,
      workflowId: id,
      version,
      definition: workflow.draft,
      publishedAt: now,
      publishedBy,
    })
    const state = workflow.state === 'paused' ? 'paused' : 'live'
    await tx
      .update(workflows)
      .set({ state, liveVersion: version, changedAt: now, asked: null })
      .where(byId(shopId, id))
    await noteState(tx, shopId, id, { at: now, state })
    if (state === 'live') {
      await watchDates(tx, shopId, id, { now, definition: workflow.draft, datesFrom })
    }
    return version
  })
}

/** Throws AppError `not_ready` where nobody but who puts it live has asked for this very draft. */
function askForSecond({ asked, draftRevision }: typeof workflows.$inferSelect, person: string): void {
  if (asked?.revision === draftRevision && asked.userId !== person) return
  throw new AppError('not_ready', 'In this shop it takes two to go live: one asks, another puts it live.', [
    { path: 'second-person', code: 'second-person', message: asked ? 'The draft has changed since, or you have asked yourself.' : 'Nobody has asked for it yet.' },
  ])
} // prettier-ignore

/** Asks that a draft go live as it is. Throws AppError `conflict` where it has changed since. */
export async function askLive(
  db: Database,
  shopId: string,
  id: string,
  asked: AskedLive,
): Promise<void> {
  await db.transaction(async (tx) => {
    const workflow = await lockWorkflow(tx, shopId, id)
    if (workflow.draftRevision !== asked.revision) throw new AppError('conflict', 'The draft has changed since you looked at it. Look again, then ask.') // prettier-ignore
    await tx.update(workflows).set({ asked }).where(byId(shopId, id))
  })
}

/** Removes a workflow that has never been live. Throws AppError `conflict` for any other. */
export async function deleteDraft(db: Database, shopId: string, id: string): Promise<void> {
  await db.transaction(async (tx) => {
    const workflow = await lockWorkflow(tx, shopId, id)
    if (workflow.liveVersion !== null) {
      throw new AppError(
        'conflict',
        'This workflow has been live, so its history is kept. Pause it instead.',
      )
    }
    await tx.delete(workflows).where(byId(shopId, id))
  })
}

/** The row of a workflow. */
export const byId = (shopId: string, id: string) =>
  and(eq(workflows.shopId, shopId), eq(workflows.id, id))

/** The row of a workflow, locked. Throws AppError `not_found`. */
export async function lockWorkflow(
  tx: Transaction,
  shopId: string,
  id: string,
): Promise<WorkflowRow> {
  const [row] = await tx.select().from(workflows).where(byId(shopId, id)).for('update')
  if (!row) throw new AppError('not_found', 'There is no such workflow.')
  return row
}

async function newestVersion(tx: Transaction, shopId: string, id: string): Promise<number> {
  const [row] = await tx
    .select({ newest: sql<number>`coalesce(max(${workflowVersions.version}), 0)` })
    .from(workflowVersions)
    .where(and(eq(workflowVersions.shopId, shopId), eq(workflowVersions.workflowId, id)))
  return row?.newest ?? 0
}
