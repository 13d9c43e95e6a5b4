import { isAboutSubject, isLike } from '../conditions/history.ts'
import { findField } from '../conditions/fields.ts'
import type { Facts } from '../events/facts.ts'
import { zoneOf } from '../events/facts.ts'
import { addDuration } from '../shared/duration.ts'
import { besideDate, instantAt, nextLocalTime, timeOnDayAfter } from '../shared/localTime.ts'
import type { Instant } from '../shared/time.ts'
import type { WaitForInstruction } from './compile.ts'
import type { UntilStep, WaitStep } from './steps.ts'

/**
 * When a wait that counts from `since` is over. With a local time it is the first permitted one once
 * the duration has passed, and never before `now`, the moment the wait was reached: whoever asks for
 * 09:00 wants no message at 14:00 because an event came late.
 */
export function waitEnd(wait: WaitStep, since: Instant, facts: Facts): Instant {
  const zone = zoneOf(facts)
  if (wait.at === undefined) return addDuration(since, wait.for, zone)
  const passed = wait.onDay
    ? timeOnDayAfter(since, wait.for, wait.at, zone)
    : addDuration(since, wait.for, zone)
  return nextLocalTime(Math.max(passed, facts.now), wait.at, zone, wait.weekdays)
}

/**
 * The date an `until` step goes by (null for a fixed one, or one that is not known), and the moment a
 * run waits for there (null while the date is not known).
 */
export function untilMoment(
  { until }: UntilStep,
  facts: Facts,
): { date: Instant | null; moment: Instant | null } {
  if (until.kind === 'fixed') {
    return { date: null, moment: instantAt(until.date, until.at, facts.shop.zone) }
  }
  const date = findField(until.field)?.read(facts) ?? null
  if (typeof date !== 'number') return { date: null, moment: null }
  return { date, moment: besideDate(date, until.offset, until.at, zoneOf(facts)) }
}

/** The time of the first awaited event between entry and the limit, or null if none has come. */
export function awaitedAt(
  { step, where }: WaitForInstruction,
  enteredAt: Instant,
  limitAt: Instant,
  facts: Facts,
): Instant | null {
  const times = facts.history
    .filter(
      (past) =>
        past.type === step.event &&
        past.at > enteredAt &&
        past.at <= Math.min(limitAt, facts.now) &&
        (step.about === 'customer' || isAboutSubject(past, facts)) &&
        (where === null || isLike(past, where, { facts, enteredAt })),
    )
    .map(({ at }) => at)
  return times.length === 0 ? null : Math.min(...times)
}
