import type { EventType } from '../events/eventTypes.ts'

/** What a driver has to supply for a condition or a whole program, beside the run's own entity. */
export interface Needs {
  /** The events it counts; true when it asks what they were about. */
  events: ReadonlyMap<EventType, boolean>
  /** Whether it asks about entries into workflows. */
  entries: boolean
  /** Whether it asks about messages the customer got. */
  messages: boolean
}

export const NO_NEEDS: Needs = { events: new Map(), entries: false, messages: false }

/** Everything that any of several needs. */
export function needsOfAll(all: readonly Needs[]): Needs {
  const events = new Map<EventType, boolean>()
  for (const needs of all) {
    for (const [type, entity] of needs.events) {
      events.set(type, entity || (events.get(type) ?? false))
    }
  }
  return {
    events,
    entries: all.some(({ entries }) => entries),
    messages: all.some(({ messages }) => messages),
  }
}
