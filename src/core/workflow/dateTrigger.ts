import { DAY_MS } from '../shared/duration.ts'
import { besideDate, nextLocalTime } from '../shared/localTime.ts'
import type { Instant } from '../shared/time.ts'
import type { DateTrigger } from './trigger.ts'

/** How long after its moment an "after" trigger is made up for when it was missed. */
export const MAKE_UP_DAYS = 3

/** The moment at which a trigger goes off for a date, in the zone it goes by. */
export function triggerMoment(
  { days, direction, at }: DateTrigger,
  date: Instant,
  zone: string,
): Instant {
  return besideDate(date, { direction, duration: `P${days}D` }, at, zone)
}

/**
 * Whether a moment that has come is still worth acting on: one before a date while the date has not
 * passed, one after it for three days. One on the day itself whose hour is later than the date's own
 * ("0 days before, 09:00" of a date at midnight) is about the day: it is due until that day is over.
 */
export function isStillDue(
  { direction }: DateTrigger,
  { date, moment, now, zone }: { date: Instant; moment: Instant; now: Instant; zone: string },
): boolean {
  if (direction === 'after') return moment > now - MAKE_UP_DAYS * DAY_MS
  return moment < date ? date > now : now < nextLocalTime(date + 1, '00:00', zone)
}

/**
 * Between which instants the dates lie whose moments may be later than `after` and up to `now`: wide
 * enough for every zone and time of day, so that a driver can fetch them by their date alone.
 */
export function dateRange(
  { days, direction }: DateTrigger,
  after: Instant,
  now: Instant,
): { from: Instant; to: Instant } {
  const shift = (direction === 'before' ? days : -days) * DAY_MS
  const slack = 2 * DAY_MS
  return { from: after + shift - slack, to: now + shift + slack }
}

/** The next moment after `now` at which the trigger can go off in any of the zones. */
export function nextSweep(trigger: DateTrigger, now: Instant, zones: readonly string[]): Instant {
  return Math.min(...zones.map((zone) => nextLocalTime(now + 1, trigger.at, zone)))
}
