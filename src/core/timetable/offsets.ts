import {
  approximateMs,
  durationParts,
  type Duration,
  type DurationParts,
} from '../shared/duration.ts'
import { remembered } from '../shared/remembered.ts'
import { weekdaysWords } from '../words/quantities.ts'
import type { TimeOfDay } from '../shared/localTime.ts'

/**
 * How long after entry something happens. Where paths with different waits meet again there is no
 * one answer, only an earliest and a latest; after a wait for a date there is only the date.
 */
export interface Offset {
  earliest: DurationParts
  latest: DurationParts
  /** A local time that it happens at, or null. */
  clock: TimeOfDay | null
  /** The weekdays that it happens on, "Tue–Thu"; null for any. */
  days: string | null
  /** A date it hangs on, in words; times then count from there. */
  anchor: string | null
  /**
   * Rises where time alone does not say that something is later: where paths with different waits
   * meet, and at a local time or a date. Keeps such a moment apart from, and after, those before it.
   */
  rank: number
}

const NOTHING: DurationParts = {
  years: 0, months: 0, weeks: 0, days: 0, hours: 0, minutes: 0, seconds: 0,
} // prettier-ignore

export const AT_ONCE: Offset = {
  earliest: NOTHING,
  latest: NOTHING,
  clock: null,
  days: null,
  anchor: null,
  rank: 0,
}

/** The offset after one more wait, to a local time, on some weekdays, if they are given. */
export function laterBy(
  offset: Offset,
  duration: Duration,
  clock?: TimeOfDay,
  weekdays?: readonly number[],
): Offset {
  const parts = durationParts(duration)
  const exact = parts.hours + parts.minutes + parts.seconds > 0
  return {
    ...offset,
    earliest: sum(offset.earliest, parts),
    latest: sum(offset.latest, parts),
    clock: clock ?? (exact ? null : offset.clock),
    days: (weekdays && weekdaysWords(weekdays)) || null,
    rank: clock === undefined ? offset.rank : offset.rank + 1,
  }
}

/** The offset of those whom an awaited event came to: at any time up to the limit. */
export function withinLimit(offset: Offset, limit: Duration): Offset {
  return { ...offset, latest: sum(offset.latest, durationParts(limit)), clock: null, days: null }
}

/** The offset at a date that has nothing to do with entry. */
export function atAnchor(offset: Offset, anchor: string): Offset {
  return {
    ...offset,
    earliest: offset.latest,
    clock: null,
    days: null,
    anchor,
    rank: offset.rank + 1,
  }
}

/** The offset where several paths meet. Throws RangeError for none. */
export function meeting(offsets: readonly Offset[]): Offset {
  const [first, ...rest] = offsets
  if (!first) throw new RangeError('No path arrives where paths are to meet')
  if (rest.every((offset) => sameMoment(offset, first))) return first
  const rank = 1 + Math.max(...offsets.map((offset) => offset.rank))
  const met = rest.reduce<Offset>(
    (all, offset) => ({
      ...all,
      earliest: earlier(all.earliest, offset.earliest),
      latest: earlier(all.latest, offset.latest) === all.latest ? offset.latest : all.latest,
    }),
    first,
  )
  const anchored = offsets.some(({ anchor }) => anchor !== null)
  return { ...met, rank, clock: null, days: null, anchor: anchored ? 'after these' : null }
}

/** Two offsets are the same moment when their keys are equal. One day and 24 hours are not. */
export const offsetKey = remembered((offset: Offset): string => {
  const { earliest, latest, rank, clock, days, anchor } = offset
  const spans = `${partsKey(earliest)}..${partsKey(latest)}`
  return `${spans} ${rank} ${days ?? ''} ${clock ?? ''} ${anchor ?? ''}`
})

const sameMoment = (a: Offset, b: Offset): boolean => a === b || offsetKey(a) === offsetKey(b)

/** True when everyone is there at the same time after entry. */
function isExact(offset: Offset): boolean {
  return partsKey(offset.earliest) === partsKey(offset.latest)
}

/** Orders moments: by their latest time; of two with the same, by rank, then by their earliest. */
export function compareOffsets(a: Offset, b: Offset): number {
  const byLatest = approximateMs(a.latest) - approximateMs(b.latest)
  if (byLatest !== 0) return byLatest
  if (a.rank !== b.rank) return a.rank - b.rank
  const byEarliest = approximateMs(a.earliest) - approximateMs(b.earliest)
  if (byEarliest !== 0) return byEarliest
  return offsetKey(a) < offsetKey(b) ? -1 : 1
}

const SHORT: readonly (readonly [keyof DurationParts, string])[] = [
  ['years', 'y'], ['months', 'mo'], ['weeks', 'wk'], ['days', 'd'],
  ['hours', 'h'], ['minutes', 'min'], ['seconds', 's'],
] // prettier-ignore

/** A column heading: "at once", "+ 7 d 20 min", "+ 20 min to 1 h", "+ 1 d, Tue–Thu 11:00", "2 d before …". */
export const offsetWords = remembered((offset: Offset): string => {
  if (offset.anchor !== null) return offset.anchor
  const latest = partsWords(offset.latest)
  const at = [offset.days, offset.clock].filter((part) => part !== null).join(' ')
  const clock = at === '' ? '' : `, ${at}`
  if (latest === '') return at === '' ? 'at once' : `next ${at}`
  if (isExact(offset)) return `+ ${latest}${clock}`
  return `+ ${partsWords(offset.earliest) || '0'} to ${latest}${clock}`
})

/** An anchor's words once more time has passed after it. */
export function anchorLater(anchor: string, duration: Duration): string {
  return `${anchor} + ${partsWords(durationParts(duration))}`
}

/** Roughly how many milliseconds after entry at the latest; null where it hangs on a date. */
export function afterEntry({ latest, anchor }: Offset): number | null {
  return anchor === null ? Math.round(approximateMs(latest)) : null
}

function partsWords(parts: DurationParts): string {
  return SHORT.filter(([unit]) => parts[unit] > 0)
    .map(([unit, short]) => `${parts[unit]} ${short}`)
    .join(' ')
}

/** Adds up without mixing calendar and elapsed units; only minutes carry into hours. */
function sum(a: DurationParts, b: DurationParts): DurationParts {
  const seconds = a.seconds + b.seconds
  const minutes = a.minutes + b.minutes + Math.floor(seconds / 60)
  const days = a.days + b.days + 7 * (a.weeks + b.weeks)
  const months = a.months + b.months
  return {
    years: a.years + b.years + Math.floor(months / 12),
    months: months % 12,
    weeks: 0,
    days,
    hours: a.hours + b.hours + Math.floor(minutes / 60),
    minutes: minutes % 60,
    seconds: seconds % 60,
  }
}

function earlier(a: DurationParts, b: DurationParts): DurationParts {
  return approximateMs(a) <= approximateMs(b) ? a : b
}

function partsKey(parts: DurationParts): string {
  const { years, months, weeks, days, hours, minutes, seconds } = parts
  return `${years}.${months}.${weeks}.${days}.${hours}.${minutes}.${seconds}`
}
