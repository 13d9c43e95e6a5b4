import type { CloudEvent } from '../../../core/events/cloudEvent.ts'
import type { Instant } from '../../../core/shared/time.ts'

/** An event that is new, with the time it counts by. */
export interface TimedEvent {
  event: CloudEvent
  at: Instant
}
