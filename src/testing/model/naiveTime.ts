import { DateTime } from 'luxon'
import type { Instant } from '../../core/shared/time.ts'
import { rollOf } from '../../core/workflow/arms.ts'
import type { Step, WaitStep } from '../../core/workflow/steps.ts'
import { ORDERS, type Happening, type ModelShopRules } from './happenings.ts'

/** The zone of the model's one customer. */
const ZONE = 'Europe/Dublin'
const SHOP_ZONE = 'Europe/Lisbon'

/** A time of day on a day. */
const atTime = (day: DateTime, time: string): Instant => {
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
function calendarPart(duration: string) {
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

/** When a wait is over that counts from `since` and was reached at `now`. */
export function waitEnd(step: WaitStep, since: Instant, now: Instant): Instant {
  if (step.at === undefined) return later(since, step.for)
  if (!step.onDay) return nextTime(Math.max(later(since, step.for), now), step.at, step.weekdays)
  // The calendar day it counts to, at that time; if that is past, the next permitted one.
  const day = DateTime.fromMillis(since, { zone: ZONE }).startOf('day').plus(calendarPart(step.for))
  return nextTime(Math.max(atTime(day, step.at), since, now), step.at, step.weekdays)
}

/** When the quiet hours end that a moment lies in; null where it lies in none. The model's go over midnight. */
export function quietEnd(quietHours: ModelShopRules['quietHours'], at: Instant): Instant | null {
  if (!quietHours) return null
  const local = DateTime.fromMillis(at, { zone: ZONE }).toFormat('HH:mm')
  const isQuiet = local >= quietHours.from || local < quietHours.to
  return isQuiet ? nextTime(at, quietHours.to, undefined) : null
}

/** In the holdout of the shop, from its day on. */
export function isHeldOut(holdout: ModelShopRules['holdout'], now: Instant): boolean {
  if (!holdout || now < holdout.since) return false
  return 100 * rollOf(`holdout of the shop ${holdout.since}`, 'c1') < holdout.percent
}
