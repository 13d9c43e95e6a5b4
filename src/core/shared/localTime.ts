import { Temporal } from 'temporal-polyfill'
import { durationParts, type Duration } from './duration.ts'
import type { Instant } from './time.ts'

/** A wall-clock time such as `09:00` or `21:30`. */
export type TimeOfDay = string

/** A calendar date such as `2026-05-09`. */
export type CalendarDate = string

/** ISO 8601 weekdays: 1 is Monday. */
export type Weekday = number

const TIME_OF_DAY = /^([01]\d|2[0-3]):[0-5]\d$/
const CALENDAR_DATE = /^\d{4}-\d{2}-\d{2}$/

/** True for a wall-clock time of hours and minutes. */
export function isTimeOfDay(text: string): boolean {
  return TIME_OF_DAY.test(text)
}

/** True for a date that is in the calendar. */
export function isCalendarDate(text: string): boolean {
  if (!CALENDAR_DATE.test(text)) return false
  try {
    Temporal.PlainDate.from(text, { overflow: 'reject' })
    return true
  } catch (error) {
    if (error instanceof RangeError) return false
    throw error
  }
}

/**
 * How far ahead a permitted day is looked for. One weekday comes every seven days; a date line that
 * is moved can swallow one (Apia, December 2011), so twice that and a little.
 */
const LOOK_AHEAD_DAYS = 16

/**
 * The first instant at or after `from` at which clocks in the zone show `time` on one of `weekdays`
 * (any day when empty). A time that does not exist moves forward by the gap; of one that happens
 * twice, the first is meant. Throws RangeError for a bad time or an unknown zone.
 */
export function nextLocalTime(
  from: Instant,
  time: TimeOfDay,
  zone: string,
  weekdays: readonly Weekday[] = [],
): Instant {
  const start = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone)
  const plainTime = Temporal.PlainTime.from(time)
  // From the day before: a time that was moved forward over midnight belongs to the day before.
  for (let ahead = -1; ahead <= LOOK_AHEAD_DAYS; ahead += 1) {
    const candidate = start.toPlainDate().add({ days: ahead }).toZonedDateTime({
      timeZone: zone,
      plainTime,
    })
    const permitted = weekdays.length === 0 || weekdays.includes(candidate.dayOfWeek)
    if (permitted && candidate.epochMilliseconds >= from) return candidate.epochMilliseconds
  }
  throw new RangeError(`No ${time} on weekdays ${weekdays.join(', ')} was found in ${zone}`)
}

/**
 * The instant of `time` on the calendar day that is a duration after the day of `from` in the zone.
 * Only its calendar units count. Throws RangeError for a bad duration, time or zone.
 */
export function timeOnDayAfter(
  from: Instant,
  duration: Duration,
  time: TimeOfDay,
  zone: string,
): Instant {
  const { years, months, weeks, days } = durationParts(duration)
  return Temporal.Instant.fromEpochMilliseconds(from)
    .toZonedDateTimeISO(zone)
    .toPlainDate()
    .add({ years, months, weeks, days }, { overflow: 'constrain' })
    .toZonedDateTime({ timeZone: zone, plainTime: Temporal.PlainTime.from(time) }).epochMilliseconds
}

/** How long before or after a date something is. */
export interface DateOffset {
  direction: 'before' | 'after'
  duration: Duration
}

/**
 * The instant that lies a duration before or after a date, by the calendar of the zone; at `time` of
 * that day when one is given. Throws RangeError for a bad duration, time or zone.
 */
export function besideDate(
  date: Instant,
  { direction, duration }: DateOffset,
  time: TimeOfDay | undefined,
  zone: string,
): Instant {
  const parts = durationParts(duration)
  const zoned = Temporal.Instant.fromEpochMilliseconds(date).toZonedDateTimeISO(zone)
  const moved = direction === 'after' ? zoned.add(parts) : zoned.subtract(parts)
  if (time === undefined) return moved.epochMilliseconds
  const plainTime = Temporal.PlainTime.from(time)
  return moved.toPlainDate().toZonedDateTime({ timeZone: zone, plainTime }).epochMilliseconds
}

/** The first instant of a calendar date in a zone. Throws RangeError for a bad date or zone. */
export function startOfDate(date: CalendarDate, zone: string): Instant {
  return Temporal.PlainDate.from(date).toZonedDateTime(zone).epochMilliseconds
}

/** The calendar date in a zone at an instant. */
export function dateIn(at: Instant, zone: string): CalendarDate {
  return Temporal.Instant.fromEpochMilliseconds(at)
    .toZonedDateTimeISO(zone)
    .toPlainDate()
    .toString()
}

/** The calendar days in a zone that a time touches, each from its first instant to the next day's. */
export function localDays(
  from: Instant,
  to: Instant,
  zone: string,
): { from: Instant; to: Instant }[] {
  const days: { from: Instant; to: Instant }[] = []
  let date = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone).toPlainDate()
  let start = date.toZonedDateTime(zone).epochMilliseconds
  while (start < to) {
    date = date.add({ days: 1 })
    const next = date.toZonedDateTime(zone).epochMilliseconds
    // A day that a date line has swallowed has no time.
    if (next > start) days.push({ from: start, to: next })
    start = next
  }
  return days
}

/** The last instant before the calendar day that `now` lies in begins. */
export function startOfToday(now: Instant, zone: string): Instant {
  const today = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone)
  return today.startOfDay().epochMilliseconds - 1
}

/** The instant of a wall-clock time on a date in a zone. Throws RangeError for a bad one. */
export function instantAt(date: CalendarDate, time: TimeOfDay, zone: string): Instant {
  const plainTime = Temporal.PlainTime.from(time)
  return Temporal.PlainDate.from(date).toZonedDateTime({ timeZone: zone, plainTime })
    .epochMilliseconds
}

/**
 * If `at` lies in the hours from `from` up to, not including, `to` on the zone's clocks (over
 * midnight when `from` is later): when they end; otherwise null. Equal times mean no hours at all.
 */
export function quietUntil(
  at: Instant,
  { from, to }: { from: TimeOfDay; to: TimeOfDay },
  zone: string,
): Instant | null {
  const { hour, minute } = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone)
  const time = `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`
  const inside = from <= to ? from <= time && time < to : time >= from || time < to
  return inside ? nextLocalTime(at + 1, to, zone) : null
}
