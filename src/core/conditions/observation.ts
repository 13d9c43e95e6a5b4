import type { EventType } from '../events/eventTypes.ts'
import type { Instant } from '../shared/time.ts'
import type { Count, LinesCondition, MessagesCondition, WorkflowsCondition } from './condition.ts'
import type { FieldValue } from './fields.ts'

/** A fact that a condition looked at, as the ledger keeps it. Enough to judge it again. */
export type Observation =
  | { kind: 'field'; field: string; value: FieldValue }
  | {
      kind: 'history'
      event: EventType
      about: 'subject' | 'customer'
      count: number
      lastAt: Instant | null
    }
  /** For each test of the condition, how many of the lines are like it. */
  | { kind: 'lines'; on: LinesCondition['on']; lines: number; like: number[]; likeAny: number }
  | {
      kind: 'workflows'
      workflow: string
      state: WorkflowsCondition['state']
      count: number
      lastAt: Instant | null
    }
  | {
      kind: 'messages'
      did: MessagesCondition['did']
      workflow: string
      count: number
      lastAt: Instant | null
    }

/** True when as many things were found as the count asks for. */
export function isCount({ op, times }: Count, found: number): boolean {
  if (op === 'atLeast') return found >= times
  return op === 'atMost' ? found <= times : found === times
}
