import type { WorkflowNumbersResponse } from '../../../contract/workflows.ts'
import type { Condition } from '../../../core/conditions/condition.ts'
import type { Count } from '../../../core/statistics/rates.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps, CAME, stepKeys } from '../../../core/workflow/lists.ts'
import { isMessage, isToCustomer, type Step } from '../../../core/workflow/steps.ts'

/** How many did something, of how many; and the same of the time before, where that is asked for. */
export interface MeasuredCounts {
  now: Count
  before: Count | undefined
}

/** What somebody wants to see at every stop and path, in the place of what they earned. */
export interface Measured {
  /** What is counted, in a sentence. */
  means: string
  ofStop: (step: string) => MeasuredCounts | undefined
  /** Everybody's way in has no step. */
  ofWay: (step: string, branch: string | null) => MeasuredCounts | undefined
}

/** What became of one person at the stops that they came to. */
export interface Told {
  /** Null for what they did not reach. */
  ofStop: (step: string) => { words: string; isGood: boolean } | null
  /** When they were there, where they live: "Thu 23 Apr, 10:00". */
  whenAt: (step: string) => string | undefined
}

/** What is counted at every stop: what happened, or what would have. */
export type ShownNumbers = WorkflowNumbersResponse & {
  isReplay?: boolean
  /** Reckoned from one in so many people. */
  oneIn?: number
  measured?: Measured | undefined
  /** Of one person who is taken through: what became of them at a stop. */
  told?: Told | undefined
  /**
   * Steps, paths and exclusions that are what they were when they were counted; missing where all are.
   */
  counted?: ReadonlySet<string>
}

/**
 * What stands in a draft with the very condition that it has in what was counted: steps, paths and
 * exclusions, by key.
 */
export function countedIn(counted: Definition, draft: Definition): ReadonlySet<string> {
  const then = conditionsOf(counted)
  const same = [...conditionsOf(draft)].filter(([key, condition]) => then.get(key) === condition)
  return new Set(same.map(([key]) => key))
}

/** Every key with the condition that decides who is counted there, to compare. */
function conditionsOf({ steps, exclusions }: Definition): Map<string, string> {
  const conditions = allSteps(steps).flatMap((step): [string, Condition | undefined][] => {
    if (step.kind === 'split') return step.branches.map(({ key, when }) => [key, when])
    return isMessage(step) ? [[step.key, step.onlyIf]] : []
  })
  return new Map([
    ...stepKeys(steps).map((key): [string, string] => [key, '']),
    ...[...conditions, ...exclusions.map(({ key, when }) => [key, when] as const)].map(
      ([key, condition]): [string, string] => [key, condition ? JSON.stringify(condition) : ''],
    ),
  ])
}

/** False for what was added or changed since: nobody knows yet how many there are, not even none. */
export function isCounted(
  { counted }: ShownNumbers,
  step: string,
  branch?: string | null,
): boolean {
  if (!counted) return true
  const isPathKnown = !branch || branch === CAME || counted.has(branch)
  return counted.has(step) && isPathKnown
}

/** How many entered, and how many messages a customer gets of it: "281 in 90 days, 2.3 messages each". */
export function enteredWords(
  { total, steps: counts, isReplay }: ShownNumbers,
  steps: Step[],
): string {
  const when = isReplay ? 'in 90 days' : 'so far'
  if (total.entered === 0) return `nobody ${when}`
  const toCustomers = new Set(
    allSteps(steps)
      .filter((step) => isToCustomer(step))
      .map(({ key }) => key),
  )
  const sent = counts.reduce((sum, one) => sum + (toCustomers.has(one.step) ? one.sent : 0), 0)
  const each = Number((sent / total.entered).toFixed(1))
  const messages = toCustomers.size === 0 ? '' : `, ${each} message${each === 1 ? '' : 's'} each`
  return `${total.entered} ${when}${messages}`
}
