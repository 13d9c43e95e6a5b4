import { isCalendarDate, startOfDate, type CalendarDate } from './localTime.ts'
import { DAY_MS } from './duration.ts'
import { localTime, type Instant } from './time.ts'

/** A day that comes every year, such as a birthday, as month and day: `04-17`. */
export type YearDay = string

const WRITTEN = /^(?:\d{4}-|--)?(\d{2}-\d{2})$/

/**
 * The day of the year in a text: `1988-04-17`, `04-17`, or `--04-17` as vCard has it (RFC 6350, 4.3.1).
 * The year is left out: nobody needs it for a greeting. Null for a day that is in no calendar.
 */
export function readYearDay(text: string): YearDay | null {
  const day = WRITTEN.exec(text)?.[1]
  // A leap year, so that 29 February is a day.
  return day !== undefined && isCalendarDate(`2024-${day}`) ? day : null
}

/** The month of a day of the year, 1 to 12. */
export const monthOf = (day: YearDay): number => Number(day.slice(0, 2))

/** In how many days a day of the year comes next by the calendar of a zone; 0 on the day itself. */
export function daysUntil(day: YearDay, now: Instant, zone: string): number {
  const { year, today } = dayIn(now, zone)
  const thisYear = dayNumber(dateIn(year, day)) - today
  return thisYear >= 0 ? thisYear : dayNumber(dateIn(year + 1, day)) - today
}

/** How many days ago a day of the year last was by the calendar of a zone; 0 on the day itself. */
export function daysSince(day: YearDay, now: Instant, zone: string): number {
  const { year, today } = dayIn(now, zone)
  const thisYear = today - dayNumber(dateIn(year, day))
  return thisYear >= 0 ? thisYear : today - dayNumber(dateIn(year - 1, day))
}

function dayIn(now: Instant, zone: string): { year: number; today: number } {
  const { year, month, day } = localTime(now, zone)
  return { year, today: dayNumber(`${year}-${two(month)}-${two(day)}`) }
}

/** Who was born on 29 February is thought of on the 28th where there is none. */
function dateIn(year: number, day: YearDay): CalendarDate {
  const date = `${year}-${day}`
  return isCalendarDate(date) ? date : `${year}-02-28`
}

const two = (value: number): string => String(value).padStart(2, '0')
const dayNumber = (date: CalendarDate): number => startOfDate(date, 'UTC') / DAY_MS
