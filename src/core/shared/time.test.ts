import fc from 'fast-check'
import { Temporal } from 'temporal-polyfill'
import { describe, expect, test } from 'vitest'
import {
  formatInstant,
  instantOf,
  isZone,
  localTime,
  parseInstant,
  startOfLocalDay,
} from './time.ts'

describe('RFC 3339 timestamps', () => {
  test.each([
    // The four examples of section 5.8.
    ['1985-04-12T23:20:50.52Z', '1985-04-12T23:20:50.52Z'],
    ['1996-12-19T16:39:57-08:00', '1996-12-20T00:39:57Z'],
    ['1990-12-31T23:59:60Z', '1990-12-31T23:59:59Z'],
    ['1937-01-01T12:00:27.87+00:20', '1937-01-01T11:40:27.87Z'],
    ['1990-12-31T15:59:60-08:00', '1990-12-31T23:59:59Z'],
    ['2026-04-14t10:20:00z', '2026-04-14T10:20:00Z'],
  ])('%s', (text, expected) => {
    const instant = parseInstant(text)
    expect(instant).not.toBeNull()
    expect(formatInstant(instant!)).toBe(expected)
  })

  test.each([
    '2026-02-29T00:00:00Z',
    '2026-03-08T24:00:00Z',
    '2026-03-08T11:00:00',
    '20260308T110000Z',
    '2026-03-08T11:00:00,5Z',
    '2026-03-08',
    'yesterday',
    '',
  ])('%j is refused', (text) => {
    expect(parseInstant(text)).toBeNull()
  })
})

/** Zone, wall clock, instant. RFC 5545 section 3.3.5 makes the same choice. */
const GAPS_AND_OVERLAPS = [
  ['America/New_York', [2026, 3, 8, 2, 30], '2026-03-08T07:30:00Z'],
  ['America/New_York', [2026, 11, 1, 1, 30], '2026-11-01T05:30:00Z'],
  ['Europe/Berlin', [2026, 3, 29, 2, 30], '2026-03-29T01:30:00Z'],
  ['Europe/Berlin', [2026, 10, 25, 2, 30], '2026-10-25T00:30:00Z'],
  ['Australia/Lord_Howe', [2026, 10, 4, 2, 15], '2026-10-03T15:45:00Z'],
  ['Australia/Lord_Howe', [2026, 4, 5, 1, 45], '2026-04-04T14:45:00Z'],
  ['Pacific/Apia', [2011, 12, 30, 11, 0], '2011-12-30T21:00:00Z'],
  // The examples of RFC 5545 itself.
  ['America/New_York', [2007, 3, 11, 2, 30], '2007-03-11T07:30:00Z'],
  ['America/New_York', [2007, 11, 4, 1, 30], '2007-11-04T05:30:00Z'],
] as const

test.each(GAPS_AND_OVERLAPS)('%s %j', (zone, [year, month, day, hour, minute], expected) => {
  const instant = instantOf({ year, month, day, hour, minute, second: 0 }, zone)
  expect(formatInstant(instant)).toBe(expected)
})

test('a local day may start after midnight (São Paulo, 4 November 2018)', () => {
  const noon = parseInstant('2018-11-04T15:00:00Z')!
  const start = startOfLocalDay(noon, 'America/Sao_Paulo')
  expect(localTime(start, 'America/Sao_Paulo')).toMatchObject({
    day: 4,
    hour: 1,
    minute: 0,
    weekday: 7,
  })
})

test('zone names', () => {
  expect(isZone('Australia/Lord_Howe')).toBe(true)
  expect(isZone('UTC')).toBe(true)
  expect(isZone('Mars/Olympus')).toBe(false)
  expect(isZone('+02:00')).toBe(false)
})

test('instants are written as Temporal writes them (property)', () => {
  const instants = fc.integer({ min: -8.64e15, max: 8.64e15 })
  fc.assert(
    fc.property(fc.oneof(instants, fc.integer({ min: 0, max: 4e9 }).map((seconds) => seconds * 1000), fc.integer({ min: 0, max: 4e10 }).map((tenths) => tenths * 100)), (at) => {
      expect(formatInstant(at)).toBe(Temporal.Instant.fromEpochMilliseconds(at).toString())
    }),
  )
}) // prettier-ignore
