import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { EventData } from '../../core/events/cloudEvent.ts'
import { entityFacts } from '../../core/events/entityFacts.ts'
import { EVENT_TYPES, type EventType } from '../../core/events/eventTypes.ts'
import type { EntityFacts } from '../../core/events/facts.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { LifeEvent } from '../../core/workflow/simulate.ts'

/** An event as it is fetched: what it tells of its entity is text until somebody asks. */
export const recordedRow = z.object({
  customerId: z.string(),
  type: z.enum(EVENT_TYPES),
  seq: z.number(),
  at: z.number(),
  subjectId: z.string().nullable(),
  /** Null where nobody will ask. */
  text: z.string().nullable(),
  from: z.string().nullable(),
  to: z.string().nullable(),
})
type RecordedRow = z.infer<typeof recordedRow>

/** What is fetched of each event; its text only where `isAsked` holds, for most of the time goes there. */
export const recordedColumns = (isAsked: SQL): SQL => sql`customer_id as "customerId", type, seq,
  time as at, subject_id as "subjectId", case when ${isAsked} then data::text end as text,
  case when type like '%.status_changed' then data->>'from' end as "from",
  case when type like '%.status_changed'
    then coalesce(data->>'to', data->'subscription'->>'status') end as "to"`

/**
 * An event of the past. Its entity is read once it is asked for: of the tens of thousands that a
 * replay fetches, few are, and reading them all would take most of its time and memory.
 */
export class RecordedEvent implements LifeEvent {
  readonly type: EventType
  readonly at: Instant
  readonly arrivesAt: Instant
  readonly subjectId: string | null
  readonly change: { from: string | null; to: string } | null
  #text: string | null
  #entity: EntityFacts | null = null

  constructor({ type, at, subjectId, text, from, to }: RecordedRow) {
    this.type = type
    this.at = at
    this.arrivesAt = at
    this.subjectId = subjectId
    this.change = to === null ? null : { from, to }
    this.#text = text
  }

  /** @throws RangeError when it was fetched without its text. */
  get entity(): EntityFacts {
    if (this.#entity) return this.#entity
    if (this.#text === null) throw new RangeError(`The text of this ${this.type} was not fetched`)
    this.#entity = entityFacts(this.type, JSON.parse(this.#text) as EventData, this.at)
    this.#text = null
    return this.#entity
  }
}
