import { DateTime } from 'luxon'
import type { Instant } from '../../core/shared/time.ts'
import type { Step } from '../../core/workflow/steps.ts'
import { ORDERS, type Happening } from './happenings.ts'

/** The zone of the model's one customer. */
export const ZONE = 'Europe/Dublin'
const SHOP_ZONE = 'Europe/Lisbon'

/** A time of day on a day. */
export const atTime = (day: DateTime, time: string): Instant => {
  const [hour, minute] = time.split(':').map(Number)
  return day
    .startOf('day')
    .set({ hour: hour ?? 0, minute: minute ?? 0 })
    .toMillis()
}

const DURATION = /^P(?:(\d+)M)?(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+)S)?)?$/

function partsOf(duration: string) {
  const [, months, days, hours, minutes, seconds] = (DURATION.exec(duration) ?? []).map(Number)
  return {
    months: months || 0,
    days: days || 0,
    hours: hours || 0,
    minutes: minutes || 0,
    seconds: seconds || 0,
  }
}

/** The months and days of a duration. */
export function calendarPart(duration: string) {
  const { months, days } = partsOf(duration)
  return { months, days }
}

/** Days and months by the calendar, hours and minutes as time that passes. */
export function later(from: Instant, duration: string): Instant {
  const { months, days, hours, minutes, seconds } = partsOf(duration)
  const day = DateTime.fromMillis(from, { zone: ZONE }).plus({ months, days })
  return day.toMillis() + ((hours * 60 + minutes) * 60 + seconds) * 1000
}

/** The first time the clock shows `time` on a permitted day, at or after `from`. */
export function nextTime(
  from: Instant,
  time: string,
  weekdays: readonly number[] | undefined,
): Instant {
  let day = DateTime.fromMillis(from, { zone: ZONE }).startOf('day')
  const isPermitted = () => !weekdays || weekdays.includes(day.weekday)
  while (atTime(day, time) < from || !isPermitted()) day = day.plus({ days: 1 })
  return atTime(day, time)
}

/** The moment an `until` step waits for, of an order of the model; null while there is none. */
export function untilMoment(
  step: Extract<Step, { kind: 'until' }>,
  order: Happening['order'],
): Instant | null {
  const { until } = step
  if (until.kind === 'fixed') {
    return atTime(DateTime.fromISO(until.date, { zone: SHOP_ZONE }), until.at)
  }
  const dates = ORDERS[order].lines.flatMap(({ startsAt }) =>
    startsAt ? [DateTime.fromISO(startsAt)] : [],
  )
  const [first] = dates.toSorted((a, b) => a.toMillis() - b.toMillis())
  if (!first) return null
  const local = first.setZone(ZONE)
  const span = calendarPart(until.offset.duration)
  const day = until.offset.direction === 'before' ? local.minus(span) : local.plus(span)
  return atTime(day.startOf('day'), until.at ?? '00:00')
}
