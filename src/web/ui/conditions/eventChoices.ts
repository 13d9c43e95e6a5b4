import { EVENT_TYPES, type EventType } from '../../../core/events/eventTypes.ts'
import { EVENT_WORDS } from '../../../core/words/eventWords.ts'

/** The event types with their labels, for choosing one. */
export const EVENT_CHOICES = Object.fromEntries(
  EVENT_TYPES.map((type) => [type, EVENT_WORDS[type].label]),
) as Record<EventType, string>
