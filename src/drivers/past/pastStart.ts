import type { EntityFacts } from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'

/** Something that would have started a workflow, before its filter is asked. */
export interface PastStart {
  at: Instant
  customerId: string
  subjectId: string | null
  /** For a date of one line: its position. Events leave it to the filter which lines count. */
  line: number | null
  /** For dates: the date itself. */
  date: Instant | null
  /** What it was about, as it was then. */
  entity: EntityFacts
}

/** Later than `from` and up to `now`. */
export interface Period {
  from: Instant
  now: Instant
  /** One in so many people; all, where it is left out. */
  oneIn?: number
}
