import { DAY_MS, durationParts, HOUR_MS, MINUTE_MS, type Duration } from '../shared/duration.ts'
import { localTime, type Instant } from '../shared/time.ts'
import { monthOf, type YearDay } from '../shared/yearDay.ts'

const UNITS = ['years', 'months', 'weeks', 'days', 'hours', 'minutes', 'seconds'] as const
const SHORT = {
  years: 'y',
  months: 'mo',
  weeks: 'wk',
  days: 'd',
  hours: 'h',
  minutes: 'min',
  seconds: 's',
}

/** "1 order", "3 orders". For nouns whose plural is an s. */
export function plural(count: number, noun: string): string {
  return `${count} ${noun}${count === 1 ? '' : 's'}`
}

/** "1 person", "3 people". */
export const peopleWords = (count: number): string => (count === 1 ? '1 person' : `${count} people`)

/** With a capital at the beginning. */
export const capitalized = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1)

/** "7 days", "1 hour 30 minutes". Throws RangeError for a bad duration. */
export function durationWords(duration: Duration): string {
  const parts = durationParts(duration)
  const named = UNITS.filter((unit) => parts[unit] > 0).map((unit) =>
    plural(parts[unit], unit.slice(0, -1)),
  )
  return named.join(' ') || 'no time'
}

/** "the next day", "3 days later". */
export function dayLater(duration: Duration): string {
  const { days, weeks, months, years, hours, minutes } = durationParts(duration)
  const isDay = days === 1 && weeks + months + years + hours + minutes === 0
  if (isDay) return 'the next day'
  return days + weeks + months + years === 0 ? 'the same day' : `${durationWords(duration)} later`
}

/** "7 d", "1 h 30 min". Throws RangeError for a bad duration. */
export function shortDuration(duration: Duration): string {
  const parts = durationParts(duration)
  const named = UNITS.filter((unit) => parts[unit] > 0).map(
    (unit) => `${parts[unit]} ${SHORT[unit]}`,
  )
  return named.join(' ') || '0'
}

/** "3 hours" for a span in milliseconds: whole units of the largest that fits, minutes at least. */
export function spanWords(ms: number): string {
  if (ms >= 2 * DAY_MS) return plural(Math.floor(ms / DAY_MS), 'day')
  if (ms >= 2 * HOUR_MS) return plural(Math.floor(ms / HOUR_MS), 'hour')
  return plural(Math.floor(ms / MINUTE_MS), 'minute')
}

export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const

/** "Tue–Thu", "Sat, Sun", "not Sun" for ISO weekdays, with a dash from three in a row on; "" for all. */
export function weekdaysWords(weekdays: readonly number[]): string {
  const days = [...new Set(weekdays)].toSorted((a, b) => a - b)
  const [first = 0] = days
  const last = days.at(-1) ?? 0
  if (days.length === 7) return ''
  const named = days.map((day) => WEEKDAYS[day - 1] ?? '')
  const others = WEEKDAYS.filter((name) => !named.includes(name))
  const areInARow = days.length > 2 && last - first === days.length - 1
  if (areInARow) return `${named[0]}–${named.at(-1)}`
  return others.length < 3 ? `not ${others.join(', ')}` : named.join(', ')
}

export const MONTHS = [
  'January', 'February', 'March', 'April', 'May', 'June',
  'July', 'August', 'September', 'October', 'November', 'December',
] as const // prettier-ignore

/** "9 May 2026" for a calendar date. */
export function dayWords(date: string): string {
  const [year = '', month = '', day = ''] = date.split('-')
  return `${Number(day)} ${MONTHS[Number(month) - 1] ?? month} ${year}`
}

/** "17 April" for `04-17`. */
export function yearDayWords(yearDay: YearDay): string {
  return `${Number(yearDay.slice(3))} ${MONTHS[monthOf(yearDay) - 1] ?? ''}`
}

const two = (value: number): string => String(value).padStart(2, '0')

/** "16 April, 09:12" in a zone; with the year when it differs from that of `now`. */
export function dateWords(at: Instant, zone: string, now: Instant = at): string {
  const local = localTime(at, zone)
  const year = local.year === localTime(now, zone).year ? '' : ` ${local.year}`
  return `${local.day} ${MONTHS[local.month - 1]}${year}, ${two(local.hour)}:${two(local.minute)}`
}

/** "10:20" in a zone. */
export function hourWords(at: Instant, zone: string): string {
  const { hour, minute } = localTime(at, zone)
  return `${two(hour)}:${two(minute)}`
}

/** "Tue 14 Apr 2026 · 10:20" in a zone. */
export function clockWords(at: Instant, zone: string): string {
  const local = localTime(at, zone)
  const month = (MONTHS[local.month - 1] ?? '').slice(0, 3)
  const date = `${WEEKDAYS[local.weekday - 1]} ${local.day} ${month} ${local.year}`
  return `${date} · ${two(local.hour)}:${two(local.minute)}`
}

/** A date as "14 Apr". */
export function shortDay(date: string): string {
  const [, month = '', day = ''] = date.split('-')
  return `${Number(day)} ${(MONTHS[Number(month) - 1] ?? '').slice(0, 3)}`
}
