import { Temporal } from 'temporal-polyfill'
import type { Instant } from './time.ts'

/** An ISO 8601 duration such as `PT20M`, `P7D`, `P1M`. `P1D` and `PT24H` are different things. */
export type Duration = string

const DURATION = /^P(?=\d|T\d)(\d+Y)?(\d+M)?(\d+W)?(\d+D)?(T(?=\d)(\d+H)?(\d+M)?(\d+S)?)?$/

const LONGEST_YEARS = 10

/** The whole-number parts of a duration. */
export interface DurationParts {
  years: number
  months: number
  weeks: number
  days: number
  hours: number
  minutes: number
  seconds: number
}

/**
 * Takes a duration apart. Whole, positive numbers only: `P0.5D` and `-P1D` are refused.
 * Throws RangeError for anything that is no such duration or is longer than ten years.
 */
export function durationParts(duration: Duration): DurationParts {
  const found = DURATION.exec(duration)
  if (!found) throw new RangeError(`"${duration}" is not a duration like PT20M, P7D or P1M`)
  // Taken from the match itself: waits are reckoned for every run, and a second parser takes its time.
  const number = (group: number): number => Number.parseInt(found[group] ?? '0', 10)
  const parts = {
    years: number(1),
    months: number(2),
    weeks: number(3),
    days: number(4),
    hours: number(6),
    minutes: number(7),
    seconds: number(8),
  }
  if (approximateMs(parts) > LONGEST_YEARS * 366 * DAY_MS) {
    throw new RangeError(`"${duration}" is longer than ${LONGEST_YEARS} years`)
  }
  return parts
}

/** True for a duration that `durationParts` accepts. */
export function isDuration(text: string): boolean {
  try {
    durationParts(text)
    return true
  } catch (error) {
    if (error instanceof RangeError) return false
    throw error
  }
}

export const SECOND_MS = 1000
export const MINUTE_MS = 60 * SECOND_MS
export const HOUR_MS = 60 * MINUTE_MS
export const DAY_MS = 24 * HOUR_MS

/** A length in milliseconds for ordering and layout only: months count 30.4 days, days 24 hours. */
export function approximateMs(parts: DurationParts): number {
  const days = parts.years * 365.25 + parts.months * 30.4375 + parts.weeks * 7 + parts.days
  return days * DAY_MS + parts.hours * HOUR_MS + parts.minutes * MINUTE_MS + parts.seconds * 1000
}

/**
 * The instant a duration after another. Hours, minutes and seconds are elapsed time; days, weeks,
 * months and years are calendar units in the zone, so 11:00 stays 11:00 when clocks change, a local
 * time that does not exist moves forward by the gap, one that happens twice means the first, and
 * 31 January + 1 month is the last day of February (ECMAScript Temporal: compatible, constrain).
 * Throws RangeError for a bad duration or an unknown zone.
 */
export function addDuration(at: Instant, duration: Duration, zone: string): Instant {
  const parts = durationParts(duration)
  const calendar = parts.years || parts.months || parts.weeks || parts.days
  if (!calendar) {
    return at + parts.hours * HOUR_MS + parts.minutes * MINUTE_MS + parts.seconds * 1000
  }
  return Temporal.Instant.fromEpochMilliseconds(at)
    .toZonedDateTimeISO(zone)
    .add(parts, { overflow: 'constrain' }).epochMilliseconds
}
