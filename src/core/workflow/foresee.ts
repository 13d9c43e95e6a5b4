import type { Facts } from '../events/facts.ts'
import type { Instant } from '../shared/time.ts'
import { advance } from './advance.ts'
import type { Program } from './compile.ts'
import type { Decision } from './decision.ts'
import type { RunState } from './runState.ts'

/** A decision that is still to come, with its moment. */
export interface Foreseen {
  at: Instant
  decision: Decision
}

/** A run comes to its end long before this: steps have no way back. */
const MOST_MOMENTS = 2000

/**
 * What a run will do if nothing changes: nothing else happens, and all that is known stays as it is. From
 * `facts.now` to its end, by the interpreter, with a clock that jumps from one moment to the next.
 */
export function foresee(program: Program, run: RunState, facts: Facts): Foreseen[] {
  const foreseen: Foreseen[] = []
  let state = run
  let known = facts
  for (let moment = 0; moment < MOST_MOMENTS; moment += 1) {
    const { now } = known
    const advanced = advance(program, state, known)
    foreseen.push(...advanced.decisions.map((decision) => ({ at: now, decision })))
    state = advanced.next
    if (state.status !== 'inProgress' || state.dueAt === null || state.dueAt <= now) break
    known = { ...advanced.facts, now: state.dueAt }
  }
  return foreseen
}
