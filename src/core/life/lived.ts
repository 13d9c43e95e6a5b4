import type { EventData } from '../events/cloudEvent.ts'
import type { EventType } from '../events/eventTypes.ts'
import type { Instant } from '../shared/time.ts'
import type { Program } from '../workflow/compile.ts'
import type { LedgerEntry } from '../workflow/ledgerEntry.ts'
import type { RunState } from '../workflow/runState.ts'

/** Something that happens to a customer, as a shop tells of it. */
export interface ToldEvent {
  at: Instant
  event: { id: string; type: EventType; data: EventData }
}

/** A workflow that people live with. */
export interface LivedWorkflow {
  id: string
  version: number
  program: Program
}

/** One way of somebody through a workflow. */
export interface LivedRun {
  workflow: LivedWorkflow
  customerId: string
  subjectId: string | null
  line: number | null
  /** The event that started it; null for a date. */
  event: ToldEvent | null
  /** For dates: names what started it, as the sweep of dates does. */
  dateKey: string | null
  state: RunState
  outcome: 'completed' | 'left' | null
}

export interface LivedEntry {
  at: Instant
  workflow: LivedWorkflow
  /** Null for those who were turned away. */
  run: LivedRun | null
  customerId: string
  subjectId: string | null
  entry: LedgerEntry
}
