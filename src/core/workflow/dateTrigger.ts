import { findField } from '../conditions/fields.ts'
import type { Facts } from '../events/facts.ts'
import { DAY_MS } from '../shared/duration.ts'
import { besideDate, nextLocalTime } from '../shared/localTime.ts'
import type { Instant } from '../shared/time.ts'
import type { DateTrigger } from './trigger.ts'

/** A date that something has; `line` where it is one of an order's line. */
export interface OwnDate {
  line: number | null
  date: Instant
}

/** The dates of a field that the thing in the facts has. Throws RangeError for an unknown field. */
export function datesOf(field: string, facts: Facts): OwnDate[] {
  const spec = findField(field)
  if (!spec) throw new RangeError(`There is no field ${field}`)
  const isPerLine = spec.about === 'line'
  const lines = isPerLine ? (facts.order?.lines ?? []) : [facts.line]
  return lines.flatMap((line, index) => {
    const date = spec.read({ ...facts, line })
    return typeof date === 'number' ? [{ line: isPerLine ? index : null, date }] : []
  })
}

/** Those of a thing's dates that it did not have before: set for the first time, or moved. */
export function newDates(now: readonly OwnDate[], before: readonly OwnDate[]): OwnDate[] {
  return now.filter(
    (one) => !before.some(({ line, date }) => line === one.line && date === one.date),
  )
}

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
 * Whether a date that has just become known, or been moved, is nearer than the trigger's lead and
 * starts a run at once: "seven days before", and it is five days ahead.
 */
export function startsAtOnce(
  trigger: DateTrigger,
  when: { date: Instant; moment: Instant; now: Instant; zone: string },
): boolean {
  return (
    trigger.ifNearer === 'startAtOnce' &&
    trigger.direction === 'before' &&
    when.moment <= when.now &&
    isStillDue(trigger, when)
  )
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
