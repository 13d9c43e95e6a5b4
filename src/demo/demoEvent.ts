import type { EventData } from '../core/events/cloudEvent.ts'
import type { EventType } from '../core/events/eventTypes.ts'
import { formatInstant, type Instant } from '../core/shared/time.ts'

/** An event of the demo shop's past, with its time as an instant for sorting. */
export interface DemoEvent {
  at: Instant
  event: {
    specversion: '1.0'
    id: string
    source: string
    type: EventType
    time: string
    data: EventData
  }
}

/** An event of the demo shop, at a whole second as shops report them. */
export function demoEvent(type: EventType, at: Instant, about: string, data: EventData): DemoEvent {
  const second = Math.floor(at / 1000) * 1000
  const event = {
    specversion: '1.0' as const,
    id: `${about}.${type}`,
    source: '/demo-shop',
    type,
    time: formatInstant(second),
    data,
  }
  return { at: second, event }
}
