import type { Decision } from './decision.ts'
import type { RunState } from './runState.ts'

/** How a run that has ended came to its end; null while it is in progress. */
export function outcomeOf(
  next: RunState,
  decisions: readonly Decision[],
): 'left' | 'completed' | null {
  if (next.status !== 'ended') return null
  const left = decisions.some(
    (one) => one.kind === 'left' || (one.kind === 'datePast' && one.did === 'leave'),
  )
  return left ? 'left' : 'completed'
}
