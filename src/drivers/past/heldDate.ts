import type { EntityFacts } from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'

/** A date that something in the shop had for a while. */
export interface HeldDate {
  customerId: string
  subjectId: string | null
  line: number | null
  date: Instant
  /** Since when it was known, and when something else became known; Infinity for never. */
  knownAt: Instant
  until: Instant
  /** Set for the first time, or moved, by what made it known. */
  isNew: boolean
  entity: EntityFacts
}
