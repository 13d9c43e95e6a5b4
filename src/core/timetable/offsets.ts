import {
  approximateMs,
  durationParts,
  type Duration,
  type DurationParts,
} from '../shared/duration.ts'

/**
 * How long after entry something happens. Where paths with different waits meet again there is no
 * one answer, only an earliest and a latest.
 */
export interface Offset {
  earliest: DurationParts
  latest: DurationParts
  /**
   * How often paths with different waits have met on the way here. Keeps the moment at which they
   * meet apart from, and after, those they come from, even where the times are equal.
   */
  meetings: number
}

const NOTHING: DurationParts = {
  years: 0, months: 0, weeks: 0, days: 0, hours: 0, minutes: 0, seconds: 0,
} // prettier-ignore

export const AT_ONCE: Offset = { earliest: NOTHING, latest: NOTHING, meetings: 0 }

/** The offset after one more wait. */
export function laterBy(offset: Offset, duration: Duration): Offset {
  const parts = durationParts(duration)
  return {
    ...offset,
    earliest: sum(offset.earliest, parts),
    latest: sum(offset.latest, parts),
  }
}

/** The offset where several paths meet. Throws RangeError for none. */
export function meeting(offsets: readonly Offset[]): Offset {
  const [first, ...rest] = offsets
  if (!first) throw new RangeError('No path arrives where paths are to meet')
  if (rest.every((offset) => offsetKey(offset) === offsetKey(first))) return first
  const meetings = 1 + Math.max(...offsets.map((offset) => offset.meetings))
  return rest.reduce<Offset>(
    (met, offset) => ({
      meetings,
      earliest: earlier(met.earliest, offset.earliest),
      latest: earlier(met.latest, offset.latest) === met.latest ? offset.latest : met.latest,
    }),
    first,
  )
}

/** Two offsets are the same moment when their keys are equal. One day and 24 hours are not. */
export function offsetKey(offset: Offset): string {
  const earliest = partsKey(offset.earliest)
  const latest = partsKey(offset.latest)
  const times = earliest === latest ? earliest : `${earliest}..${latest}`
  return `${times} ${offset.meetings}`
}

/** True when everyone is there at the same time after entry. */
function isExact(offset: Offset): boolean {
  return partsKey(offset.earliest) === partsKey(offset.latest)
}

/** Orders moments: by their latest time; of two with the same, the one with fewer meetings first. */
export function compareOffsets(a: Offset, b: Offset): number {
  const byLatest = approximateMs(a.latest) - approximateMs(b.latest)
  if (byLatest !== 0) return byLatest
  if (a.meetings !== b.meetings) return a.meetings - b.meetings
  return offsetKey(a) < offsetKey(b) ? -1 : 1
}

const SHORT: readonly (readonly [keyof DurationParts, string])[] = [
  ['years', 'y'], ['months', 'mo'], ['weeks', 'wk'], ['days', 'd'],
  ['hours', 'h'], ['minutes', 'min'], ['seconds', 's'],
] // prettier-ignore

/** A column heading: "at once", "+ 7 d 20 min", "+ 20 min to 1 h". */
export function offsetWords(offset: Offset): string {
  const latest = partsWords(offset.latest)
  if (latest === '') return 'at once'
  if (isExact(offset)) return `+ ${latest}`
  return `+ ${partsWords(offset.earliest) || '0'} to ${latest}`
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
  return SHORT.map(([unit]) => parts[unit]).join('.')
}
