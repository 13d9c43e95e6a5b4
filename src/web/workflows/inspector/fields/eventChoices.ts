import {
  EVENT_TYPE_NAMES,
  EVENT_TYPES,
  type EventType,
} from '../../../../core/events/eventTypes.ts'

/** The event types with their labels, for choosing one. */
export const EVENT_CHOICES = Object.fromEntries(
  EVENT_TYPE_NAMES.map((type) => [type, EVENT_TYPES[type].label]),
) as Record<EventType, string>
