import { findRun } from '../../backend/runs/index.ts'
import type { Db } from '../../backend/platform/db.ts'
import { AppError } from '../../backend/platform/errors.ts'
import { readClock, type Shop } from '../../backend/shop/index.ts'
import { findWorkflow } from '../../backend/workflows/index.ts'
import type { Instant } from '../../core/shared/time.ts'
import { hindranceWords, type HindranceWords } from '../../core/words/comingWords.ts'
import { entryWords } from '../../core/words/decisions.ts'
import { stepName } from '../../core/words/steps.ts'
import { comingOf } from '../../core/workflow/standing.ts'
import { loadFacts } from './facts/index.ts'
import type { Programs } from './programs.ts'
import { requestOf } from './moveRuns.ts'

/** What is still to come of a run, in words. */
export interface RunComing {
  /** Nothing of it comes before that is over. */
  isPaused: boolean
  next: { step: string; at: Instant } | null
  lines: { at: Instant; kind: string; words: string }[]
  hindrances: HindranceWords[]
}

const NOTHING: RunComing = { isPaused: false, next: null, lines: [], hindrances: [] }

/**
 * What is still to come of a run, if nothing changes, and what would stop or move it, each with its present value; nothing
 * of one that has ended. Throws AppError `not_found`.
 */
export async function runComing(
  db: Db,
  programs: Programs,
  shop: Shop,
  runId: number,
): Promise<RunComing> {
  const run = await findRun(db, shop.id, runId)
  if (!run) throw new AppError('not_found', 'There is no such run.')
  if (run.status !== 'inProgress') return NOTHING
  const { now } = await readClock(db, shop.id)
  const program = await programs.get(db, shop.id, run.workflowId, run.version)
  const { workflow } = await findWorkflow(db, shop.id, run.workflowId)
  const request = requestOf(run, program)
  const source = await loadFacts(db, shop, [request], now)
  if (!source.has(run.customerId)) return NOTHING
  const { foreseen, next, hindrances } = comingOf(program, run, source.of(request))
  const { definition } = program
  return {
    isPaused: workflow.state === 'paused',
    next: next && { step: stepName(definition, next.step), at: next.at },
    lines: foreseen.map(({ at, decision }) => ({ at, kind: decision.kind, words: entryWords(decision, definition, shop) })), // prettier-ignore
    hindrances: hindrances.flatMap((one) => hindranceWords(one, definition, shop, shop)),
  }
}
