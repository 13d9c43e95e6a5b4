import { DateTime } from 'luxon'
import type { Instant } from '../../core/shared/time.ts'
import type { DateTrigger } from '../../core/workflow/trigger.ts'

/** What a shop tells of the date of one thing, and when. */
export interface RecordedDate {
  at: Instant
  date: Instant
}

const onDay = (day: DateTime, time: string): Instant => {
  const [hour, minute] = time.split(':').map(Number)
  return day.startOf('day').set({ hour, minute }).toMillis()
}

/**
 * When a trigger before a date starts runs for one thing, and for which date: read off the docs
 * sentence by sentence, with no thought for how long it takes.
 */
export function naiveStarts(
  trigger: DateTrigger,
  zone: string,
  recorded: readonly RecordedDate[],
  end: Instant,
): RecordedDate[] {
  const starts: RecordedDate[] = []
  const momentOf = (date: Instant): Instant =>
    onDay(DateTime.fromMillis(date, { zone }).minus({ days: trigger.days }), trigger.at)
  const start = (at: Instant, date: Instant): void => {
    // One run for each value of the date.
    if (at <= end && !starts.some((one) => one.date === date)) starts.push({ at, date })
  }
  for (const [index, { at, date }] of recorded.entries()) {
    const next = recorded[index + 1]?.at ?? Infinity
    const moment = momentOf(date)
    // Its moment comes while it is the date.
    if (moment >= at && moment < next) start(moment, date)
    const isSetOrMoved = recorded[index - 1]?.date !== date
    // "On the day itself, at an hour later than the date's own, it is about the day."
    const dueUntil =
      moment < date ? date : DateTime.fromMillis(date, { zone }).endOf('day').toMillis() + 1
    const isNearer = moment < at && at < dueUntil
    if (trigger.ifNearer === 'startAtOnce' && isSetOrMoved && isNearer) start(at, date)
  }
  return starts
}
