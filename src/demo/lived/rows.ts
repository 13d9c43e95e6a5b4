import type { CouponStep } from '../../core/workflow/steps.ts'
import type { Channel } from '../../core/channels/catalogue.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import type { RunState } from '../../core/workflow/runState.ts'
import type { Program } from '../../core/workflow/compile.ts'
import type { DemoEvent } from '../demoEvent.ts'

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
  event: DemoEvent | null
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

export interface LivedMessage {
  run: LivedRun
  step: string
  channel: Channel
  marketing: boolean
  to: string | null
  at: Instant
  failed: boolean
  openedAt: Instant | null
  clickedAt: Instant | null
  /** What mail systems told of it; they are given its id once it has one. */
  told: DemoEvent[]
}

export interface LivedCoupon {
  run: LivedRun
  step: CouponStep
  code: string
  at: Instant
  expiresAt: Instant | null
}

/** All that came of a time that was lived through. */
export interface LivedPast {
  events: DemoEvent[]
  runs: LivedRun[]
  entries: LivedEntry[]
  messages: LivedMessage[]
  coupons: LivedCoupon[]
}
