import { Temporal } from 'temporal-polyfill'

/** A point in time: milliseconds since 1970-01-01T00:00:00Z, as an integer. */
export type Instant = number

const RFC_3339 =
  /^(\d{4})-(\d{2})-(\d{2})[Tt]([01]\d|2[0-3]):([0-5]\d):([0-5]\d|60)(\.\d+)?([Zz]|[+-]([01]\d|2[0-3]):[0-5]\d)$/

/**
 * Reads an RFC 3339 timestamp (section 5.6). A leap second counts as the second before it.
 * Returns null for anything else: ISO basic form, missing offset, 29 February in a common year.
 */
export function parseInstant(text: string): Instant | null {
  if (!RFC_3339.test(text)) return null
  try {
    return Temporal.Instant.from(text.toUpperCase()).epochMilliseconds
  } catch (error) {
    if (error instanceof RangeError) return null
    throw error
  }
}

/**
 * Writes an instant as RFC 3339 in UTC, with milliseconds only when there are any. Throws RangeError for what is none.
 * As Temporal does it, in a twentieth of the time: events are written by the ten thousand.
 */
export function formatInstant(at: Instant): string {
  // oxlint-disable-next-line no-restricted-globals -- no clock is read
  return new Date(at).toISOString().replace(/\.?0*Z$/, 'Z')
}

/** True for an IANA zone name that this machine's zone data knows. */
export function isZone(zone: string): boolean {
  if (!/^[A-Za-z]+(\/[A-Za-z0-9_+-]+)*$/.test(zone)) return false
  try {
    Temporal.Instant.fromEpochMilliseconds(0).toZonedDateTimeISO(zone)
    return true
  } catch (error) {
    if (error instanceof RangeError) return false
    throw error
  }
}

/** The wall clock in a zone, split into the parts that words and headings are made from. */
export interface LocalTime {
  year: number
  month: number
  day: number
  hour: number
  minute: number
  second: number
  /** ISO 8601: 1 is Monday. */
  weekday: number
}

/** The local time of an instant. Throws RangeError for an unknown zone. */
export function localTime(at: Instant, zone: string): LocalTime {
  const { year, month, day, hour, minute, second, dayOfWeek } =
    Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone)
  return { year, month, day, hour, minute, second, weekday: dayOfWeek }
}

/** The first instant of a local date in a zone (not always midnight: some clocks skip it). */
export function startOfLocalDay(at: Instant, zone: string): Instant {
  return Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).startOfDay()
    .epochMilliseconds
}

/**
 * The instant of a wall-clock time in a zone. A time that does not exist moves forward by the gap,
 * one that happens twice means the first (Temporal's "compatible", RFC 5545 section 3.3.5).
 */
export function instantOf(local: Omit<LocalTime, 'weekday'>, zone: string): Instant {
  return Temporal.ZonedDateTime.from({ ...local, timeZone: zone }, { disambiguation: 'compatible' })
    .epochMilliseconds
}
