import type { WorkflowNumbersResponse } from '../../contract/workflows.ts'
import { allSteps, CAME } from '../../core/workflow/lists.ts'
import type { Step } from '../../core/workflow/steps.ts'

/** What is counted at every stop: what happened, or what would have. */
export type ShownNumbers = WorkflowNumbersResponse & {
  isReplay?: boolean
  /** Steps and paths that were there when they were counted; missing where nothing is unknown. */
  counted?: ReadonlySet<string>
}

/** False for a step or path that was added since: nobody knows yet how many get there, not even none. */
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
      .filter(({ kind }) => kind === 'email' || kind === 'sms')
      .map(({ key }) => key),
  )
  const sent = counts.reduce((sum, one) => sum + (toCustomers.has(one.step) ? one.sent : 0), 0)
  const each = Number((sent / total.entered).toFixed(1))
  const messages = toCustomers.size === 0 ? '' : `, ${each} message${each === 1 ? '' : 's'} each`
  return `${total.entered} ${when}${messages}`
}
