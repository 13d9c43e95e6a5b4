import { DateTime } from 'luxon'
import { describe, expect, test } from 'vitest'
import { addDuration, durationParts, isDuration } from './duration.ts'
import { formatInstant, parseInstant } from './time.ts'

const at = (text: string): number => parseInstant(text) ?? Number.NaN

/** Zone, start, after one calendar day, after 24 hours; all UTC. Two Temporal polyfills, tz 2025c. */
const DAY_VERSUS_24_HOURS = [
  ['America/New_York', '2026-03-07T16:00:00Z', '2026-03-08T15:00:00Z', '2026-03-08T16:00:00Z'],
  ['America/New_York', '2026-03-07T07:30:00Z', '2026-03-08T07:30:00Z', '2026-03-08T07:30:00Z'],
  ['America/New_York', '2026-10-31T15:00:00Z', '2026-11-01T16:00:00Z', '2026-11-01T15:00:00Z'],
  ['America/New_York', '2026-10-31T05:30:00Z', '2026-11-01T05:30:00Z', '2026-11-01T05:30:00Z'],
  ['America/New_York', '2026-11-01T04:30:00Z', '2026-11-02T05:30:00Z', '2026-11-02T04:30:00Z'],
  ['Europe/Berlin', '2026-03-28T10:00:00Z', '2026-03-29T09:00:00Z', '2026-03-29T10:00:00Z'],
  ['Europe/Berlin', '2026-03-28T01:30:00Z', '2026-03-29T01:30:00Z', '2026-03-29T01:30:00Z'],
  ['Europe/Berlin', '2026-10-24T09:00:00Z', '2026-10-25T10:00:00Z', '2026-10-25T09:00:00Z'],
  ['Australia/Lord_Howe', '2026-10-03T00:30:00Z', '2026-10-04T00:00:00Z', '2026-10-04T00:30:00Z'],
  ['Australia/Lord_Howe', '2026-10-02T15:45:00Z', '2026-10-03T15:45:00Z', '2026-10-03T15:45:00Z'],
  ['Australia/Lord_Howe', '2026-04-04T00:00:00Z', '2026-04-05T00:30:00Z', '2026-04-05T00:00:00Z'],
  ['Asia/Kathmandu', '2026-03-08T05:15:00Z', '2026-03-09T05:15:00Z', '2026-03-09T05:15:00Z'],
  ['Pacific/Kiritimati', '2026-03-07T21:00:00Z', '2026-03-08T21:00:00Z', '2026-03-08T21:00:00Z'],
  ['Asia/Tokyo', '2026-03-08T02:00:00Z', '2026-03-09T02:00:00Z', '2026-03-09T02:00:00Z'],
  ['Pacific/Apia', '2011-12-29T21:00:00Z', '2011-12-30T21:00:00Z', '2011-12-30T21:00:00Z'],
  ['America/Sao_Paulo', '2018-11-03T03:00:00Z', '2018-11-04T03:00:00Z', '2018-11-04T03:00:00Z'],
] as const

describe('a day is not 24 hours (ECMAScript Temporal, disambiguation "compatible")', () => {
  test.each(DAY_VERSUS_24_HOURS)('%s from %s', (zone, start, afterDay, after24Hours) => {
    expect(formatInstant(addDuration(at(start), 'P1D', zone))).toBe(afterDay)
    expect(formatInstant(addDuration(at(start), 'PT24H', zone))).toBe(after24Hours)
  })

  test.each(DAY_VERSUS_24_HOURS)('%s from %s agrees with luxon', (zone, start) => {
    const luxon = DateTime.fromISO(start, { zone })
    expect(addDuration(at(start), 'PT24H', zone)).toBe(luxon.plus({ hours: 24 }).toMillis())
    // Luxon's choice in a repeated local hour depends on today's date, so those are left out.
    const repeated = start === '2026-10-31T05:30:00Z'
    if (!repeated)
      expect(addDuration(at(start), 'P1D', zone)).toBe(luxon.plus({ days: 1 }).toMillis())
  })
})

describe('month ends (Temporal, overflow "constrain"; RFC 5545 would skip the month)', () => {
  test.each([
    ['2026-01-31', 'P1M', '2026-02-28'],
    ['2024-01-31', 'P1M', '2024-02-29'],
    ['2028-01-31', 'P1M', '2028-02-29'],
    ['2024-02-29', 'P1Y', '2025-02-28'],
    ['2024-02-29', 'P4Y', '2028-02-29'],
    ['2026-08-31', 'P6M', '2027-02-28'],
    ['2026-10-31', 'P1M', '2026-11-30'],
    ['2026-01-31', 'P1M1D', '2026-03-01'],
    ['2026-01-31', 'P2M', '2026-03-31'],
  ])('%s + %s', (start, duration, expected) => {
    const result = addDuration(at(`${start}T11:00:00Z`), duration, 'UTC')
    expect(formatInstant(result)).toBe(`${expected}T11:00:00Z`)
    expect(result).toBe(
      DateTime.fromISO(`${start}T11:00Z`, { zone: 'UTC' }).plus(luxonParts(duration)).toMillis(),
    )
  })
})

function luxonParts(duration: string) {
  const { years, months, days } = durationParts(duration)
  return { years, months, days }
}

describe('ISO 8601 durations', () => {
  test.each(['P1D', 'PT24H', 'P1W', 'P3DT12H', 'P1Y2M10DT2H30M', 'PT0S'])('%s is one', (text) => {
    expect(isDuration(text)).toBe(true)
  })
  test.each([
    'P',
    'PT',
    'P1DT',
    'P10H',
    'P0.5D',
    'PT0.5H',
    'P1,5D',
    '-P1D',
    'p1d',
    'P1D ',
    '',
    'P99Y',
  ])('%j is none', (text) => {
    expect(isDuration(text)).toBe(false)
    expect(() => durationParts(text)).toThrow(RangeError)
  })
})

test('weeks are weeks of the calendar, as days are days', () => {
  // Lisbon goes to summer time on 29 March 2026: 11:00 stays 11:00.
  const before = Date.parse('2026-03-25T11:00:00Z')
  expect(addDuration(before, 'P1W', 'Europe/Lisbon')).toBe(Date.parse('2026-04-01T10:00:00Z'))
})

test('ten years may be waited, and no day more', () => {
  expect(isDuration('P10Y')).toBe(true)
  expect(isDuration('P3660D')).toBe(true)
  expect(isDuration('P3661D')).toBe(false)
})
