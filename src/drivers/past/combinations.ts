import type { Db } from '../../backend/platform/db.ts'
import { readClock } from '../../backend/shop/index.ts'
import { compileCondition } from '../../core/conditions/compile.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import type { Facts } from '../../core/events/facts.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { EventTrigger } from '../../core/workflow/trigger.ts'
import { pastSubjects } from './pastSubjects.ts'

const COUNTED_DAYS = 365
/** More of them than a condition is counted over: a year of them says more than a season. */
const MOST_ORDERS = 20_000

/** Categories that were ordered together, and what a split makes of those orders. */
export interface Combination {
  /** In order of the alphabet; empty for products of none. */
  categories: string[]
  orders: number
  /** What they came to, in the shop's currency; orders in another one are left out. */
  revenueMinor: number
  /** How many take each path, by its place; the last are those of everyone else. */
  paths: number[]
}

/**
 * The combinations of categories in the orders of the last year that would have started a workflow,
 * the largest first, with the path of a split that each would have taken. `since` when it is, where there were too many for a year.
 */
export async function countCombinations(
  db: Db,
  shopId: string,
  trigger: EventTrigger,
  branches: readonly Condition[],
): Promise<{ combinations: Combination[]; since: Instant | null }> {
  const conditions = branches.map(compileCondition)
  const asked = { days: COUNTED_DAYS, conditions, most: MOST_ORDERS }
  const { subjects, since } = await pastSubjects(db, shopId, trigger, asked)
  const found = new Map<string, Combination>()
  for (const { atOnce } of subjects) {
    const categories = categoriesOf(atOnce.facts)
    const key = JSON.stringify(categories)
    const own = found.get(key) ?? emptyCombination(categories, branches.length)
    found.set(key, own)
    const path = conditions.findIndex((condition) => condition.holds(atOnce))
    const index = path === -1 ? branches.length : path
    own.orders += 1
    own.revenueMinor += revenueOf(atOnce.facts)
    own.paths[index] = (own.paths[index] ?? 0) + 1
  }
  const { now } = await readClock(db, shopId)
  return {
    combinations: [...found.values()].toSorted((a, b) => b.orders - a.orders),
    since: since > now - COUNTED_DAYS * DAY_MS ? since : null,
  }
}

const emptyCombination = (categories: string[], branches: number): Combination => ({
  categories,
  orders: 0,
  revenueMinor: 0,
  paths: Array.from({ length: branches + 1 }, () => 0),
})

function categoriesOf({ order }: Facts): string[] {
  const named = order?.lines.flatMap(({ category }) => category ?? []) ?? []
  return [...new Set(named)].toSorted((a, b) => a.localeCompare(b))
}

const revenueOf = ({ order, shop }: Facts): number =>
  order?.currency === shop.currency ? order.totalMinor : 0
