import { z } from 'zod'
import { DATA, envelope } from './cloudEvent.ts'
import { EVENT_TYPES, entityOf, type EntityKind, type EventType } from './eventTypes.ts'

const typesOf = (entity: EntityKind): [EventType, ...EventType[]] => {
  const [first, ...rest] = EVENT_TYPES.filter((type) => entityOf(type) === entity)
  if (first === undefined) throw new RangeError(`No event is about a ${entity}`)
  return [first, ...rest]
}

/** An event as the shop sends it, by what it is about: for the document of the interface for programs. `readCloudEvent` reads them. */
export const eventSchema = z.union(
  (Object.keys(DATA) as EntityKind[]).map((entity) =>
    envelope.extend({ type: z.enum(typesOf(entity)), data: DATA[entity] }),
  ),
)
