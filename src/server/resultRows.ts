import { forgetChanged } from '../backend/changes/index.ts'
import type { Database } from '../backend/platform/db.ts'
import { readClock, type Shop } from '../backend/shop/index.ts'
import { countRolledUp, listWorkflows, workflowResults } from '../backend/workflows/index.ts'
import type { CohortResults } from '../contract/results.ts'
import { DAY_MS } from '../core/shared/duration.ts'
import { formatInstant, type Instant } from '../core/shared/time.ts'
import { stepName } from '../core/words/steps.ts'
import type { Definition } from '../core/workflow/definition.ts'

interface Asked {
  from: Instant
  to: Instant
  windowDays: number
}

/** The results of one workflow as rows of a file: of those whose window is over, and of those whose is still open. */
export function resultRows(
  { over, open }: { over: CohortResults; open: CohortResults },
  definition: Definition,
  { from, to, windowDays }: Asked,
): object[] {
  const about = { from: formatInstant(from), to: formatInstant(to), windowDays }
  const rows = (window: string, { entered, messages }: CohortResults): object[] =>
    messages.map(({ step, notSent, ...figures }) => ({
      ...about,
      window,
      entered,
      message: stepName(definition, step),
      step,
      ...figures,
      notSent: notSent.map(({ code, exclusion, count }) => `${count} ${exclusion ?? code}`).join('; '),
    }))
  return [...rows('over', over), ...rows('still open', open)]
} // prettier-ignore

const DAYS = 90
const WINDOW_DAYS = 30

/** The same of every workflow, of those who entered in the last ninety days. */
export async function* everyResult(db: Database, shop: Shop): AsyncGenerator<object> {
  const { now } = await readClock(db, shop.id)
  await forgetChanged(db, shop.id)
  const asked = { from: now - DAYS * DAY_MS, to: now + 1, windowDays: WINDOW_DAYS, now }
  for (const { workflow } of await listWorkflows(db, shop.id)) {
    const cohort = { ...asked, shopId: shop.id, workflowId: workflow.id }
    const counted = await workflowResults(db, cohort, (tx, one) => countRolledUp(tx, shop.zone, one))
    for (const row of resultRows(counted, workflow.draft, asked))
      yield { workflow: workflow.draft.name, workflowId: workflow.id, ...row }
  }
} // prettier-ignore
