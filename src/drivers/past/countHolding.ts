import type { Database } from '../../backend/platform/db.ts'
import { compileCondition } from '../../core/conditions/compile.ts'
import type { CompiledCondition } from '../../core/conditions/compiled.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import type { Facts } from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { EventTrigger } from '../../core/workflow/trigger.ts'
import { askedOf, pastSubjects } from './pastSubjects.ts'

const COUNTED_DAYS = 90

/** For how many subjects of the past conditions hold. */
export interface HeldCount {
  /** How many there were that the trigger's filter lets in. */
  of: number
  /** For each condition, how many it holds for. */
  held: number[]
  /** For each condition, how many it is the first of all to hold for: whom a split would send there. */
  first: number[]
  /** Since when; later than 90 days ago where there were too many events. */
  since: Instant
}

/**
 * Asks conditions about the events of the last 90 days that would have started a workflow, each with
 * what was known at its moment.
 */
export async function countHolding(
  db: Database,
  shopId: string,
  trigger: EventTrigger,
  conditions: readonly Condition[],
): Promise<HeldCount> {
  const asked = conditions.map(compileCondition)
  const past = await pastSubjects(db, shopId, trigger, { days: COUNTED_DAYS, conditions: asked })
  const { facts, since } = past
  return {
    of: facts.length,
    held: asked.map((condition) => facts.filter((one) => condition.holds(askedOf(one))).length),
    first: firsts(asked, facts),
    since,
  }
}

function firsts(conditions: readonly CompiledCondition[], facts: readonly Facts[]): number[] {
  const counts = conditions.map(() => 0)
  for (const one of facts) {
    const index = conditions.findIndex((condition) => condition.holds(askedOf(one)))
    if (index !== -1) counts[index] = (counts[index] ?? 0) + 1
  }
  return counts
}
