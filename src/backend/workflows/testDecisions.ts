import { and, desc, eq } from 'drizzle-orm'
import { readClock } from '../shop/index.ts'
import { users } from '../accounts/tables.ts'
import { AppError } from '../platform/errors.ts'
import type { Database, Db } from '../platform/db.ts'
import type { ExperimentReport, TestDecision } from '../../contract/experiments.ts'
import { experimentAt } from '../../core/experiments/period.ts'
import { takeArm } from '../../core/workflow/edit.ts'
import { findWorkflow, saveDraft } from './store.ts'
import { testDecisions } from './tables.ts'

interface Decided {
  shopId: string
  workflowId: string
  userId: string
  arm: string
  note: string
  /** The draft that the person was looking at. */
  revision: number
  report: ExperimentReport
}

/**
 * Makes a draft in which everybody takes the chosen arm, and keeps the decision with the figures it was made by.
 * Throws AppError `not_found` where the draft has no such experiment or arm any more, `conflict` when somebody else
 * has changed it.
 */
export async function decideTest(db: Database, decided: Decided): Promise<number> {
  const { shopId, workflowId, userId, arm, note, revision, report } = decided
  return db.transaction(async (tx) => {
    const { draft } = (await findWorkflow(tx, shopId, workflowId)).workflow
    const step = experimentAt(draft, report.step)
    if (!step?.arms.some(({ key }) => key === arm)) {
      throw new AppError('not_found', 'The draft has no such test or arm any more. Reload to see it as it is.') // prettier-ignore
    }
    const saved = await saveDraft(tx, shopId, workflowId, revision, takeArm(draft, report.step, arm)) // prettier-ignore
    const { now } = await readClock(tx, shopId)
    await tx.insert(testDecisions).values({
      shopId, workflowId, step: report.step, decidedAt: now, decidedBy: userId, arm, note, report,
    }) // prettier-ignore
    return saved
  })
}

/** What was decided of the experiments of a workflow, the newest first. */
export function listTestDecisions(
  db: Db,
  shopId: string,
  workflowId: string,
): Promise<TestDecision[]> {
  const { id, decidedAt, decidedBy, arm, note, report } = testDecisions
  return db
    .select({ id, at: decidedAt, by: users.name, decidedBy, arm, note, report })
    .from(testDecisions)
    .leftJoin(users, and(eq(users.shopId, testDecisions.shopId), eq(users.id, decidedBy)))
    .where(and(eq(testDecisions.shopId, shopId), eq(testDecisions.workflowId, workflowId)))
    .orderBy(desc(id))
    .then((rows) => rows.map(({ by, decidedBy: userId, ...row }) => ({ ...row, by: by ?? userId })))
}
