import type { Db } from '../../backend/platform/db.ts'
import { compileCondition } from '../../core/conditions/compile.ts'
import type { CompiledCondition } from '../../core/conditions/compiled.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { Trigger } from '../../core/workflow/trigger.ts'
import { pastSubjects, type PastSubject } from './pastSubjects.ts'

const COUNTED_DAYS = 90

/** For how many subjects of the past conditions hold. */
export interface HeldCount {
  /** How many there were that the trigger's filter lets in. */
  of: number
  /** For each condition, how many it holds for. */
  held: number[]
  /** For each condition, how many it is the first of all to hold for: whom a split would send there. */
  first: number[]
  /** Since when; later than 90 days ago where there was too much. */
  since: Instant
}

/**
 * Asks conditions about the events and dates of the last 90 days that would have started a workflow,
 * each with what was known `afterMs` after it, or by now.
 */
export async function countHolding(
  db: Db,
  shopId: string,
  trigger: Trigger,
  conditions: readonly Condition[],
  afterMs = 0,
): Promise<HeldCount> {
  const asked = conditions.map(compileCondition)
  const query = { days: COUNTED_DAYS, conditions: asked, afterMs }
  const { subjects, since } = await pastSubjects(db, shopId, trigger, query)
  return {
    of: subjects.length,
    held: asked.map((one) => subjects.filter(({ later }) => one.holds(later)).length),
    first: firsts(asked, subjects),
    since,
  }
}

function firsts(
  conditions: readonly CompiledCondition[],
  subjects: readonly PastSubject[],
): number[] {
  const counts = conditions.map(() => 0)
  for (const { later } of subjects) {
    const index = conditions.findIndex((condition) => condition.holds(later))
    if (index !== -1) counts[index] = (counts[index] ?? 0) + 1
  }
  return counts
}
