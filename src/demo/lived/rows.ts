import type { CouponStep } from '../../core/workflow/steps.ts'
import type { Channel } from '../../core/channels/catalogue.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { LivedEntry, LivedRun } from '../../core/life/lived.ts'
import type { DemoEvent } from '../demoEvent.ts'

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
