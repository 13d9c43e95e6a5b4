import { assertNever } from '../shared/assertNever.ts'
import { DAY_MS } from '../shared/duration.ts'
import { nextLocalTime, startOfDate } from '../shared/localTime.ts'
import type { Instant } from '../shared/time.ts'
import type { Window } from './condition.ts'

/** A span of time: later than `after`, at or before `upTo`. */
export interface Span {
  after: Instant
  upTo: Instant
}

/** The instants a window covers. The last N days are N times 24 hours; dates are the shop's. */
export function spanOf(window: Window, now: Instant, enteredAt: Instant, zone: string): Span {
  switch (window.kind) {
    case 'ever':
      return { after: -Infinity, upTo: now }
    case 'sinceEntry':
      return { after: enteredAt, upTo: now }
    case 'lastDays':
      // What is exactly so long ago is still within.
      return { after: now - window.days * DAY_MS - 1, upTo: now }
    case 'between': {
      const from = startOfDate(window.from, zone)
      const next = nextLocalTime(startOfDate(window.to, zone) + 1, '00:00', zone)
      return { after: from - 1, upTo: Math.min(now, next - 1) }
    }
    default:
      return assertNever(window, 'window')
  }
}

/** True when an instant lies in a span. */
export function isWithin(at: Instant, { after, upTo }: Span): boolean {
  return at > after && at <= upTo
}
