import type { WorkflowNumbersResponse } from '../../contract/workflows.ts'
import { CAME } from '../../core/workflow/lists.ts'

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
