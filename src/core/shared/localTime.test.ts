import { DateTime, Settings } from 'luxon'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { at } from '../../testing/builders.ts'
import { addDuration, DAY_MS, HOUR_MS } from './duration.ts'
import {
  besideDate,
  dateIn,
  instantAt,
  localDays,
  nextLocalTime,
  quietUntil,
  timeOnDayAfter,
} from './localTime.ts'
import { zoneOfPlace } from './placeZones.ts'

const iso = (instant: number): string => new Date(instant).toISOString().replace('.000', '')
const NEW_YORK = 'America/New_York'

// Values by ECMAScript Temporal ("compatible", "constrain"; the same choice as RFC 5545 section
// 3.3.5), on which two polyfills, luxon and zdump of tz 2026f agreed.
describe('the next 11:00 at or after an instant, that instant included', () => {
  test.each([
    ['2026-03-07T15:59:59Z', NEW_YORK, '2026-03-07T16:00:00Z'],
    ['2026-03-07T16:00:00Z', NEW_YORK, '2026-03-07T16:00:00Z'],
    ['2026-03-07T16:00:01Z', NEW_YORK, '2026-03-08T15:00:00Z'],
    ['2026-10-31T15:00:01Z', NEW_YORK, '2026-11-01T16:00:00Z'],
    ['2026-03-28T10:00:01Z', 'Europe/Berlin', '2026-03-29T09:00:00Z'],
    ['2026-10-24T09:00:01Z', 'Europe/Berlin', '2026-10-25T10:00:00Z'],
    ['2026-10-03T00:30:01Z', 'Australia/Lord_Howe', '2026-10-04T00:00:00Z'],
    ['2026-04-04T00:00:01Z', 'Australia/Lord_Howe', '2026-04-05T00:30:00Z'],
    ['2026-06-01T05:15:00Z', 'Asia/Kathmandu', '2026-06-01T05:15:00Z'],
    ['2026-06-01T05:15:01Z', 'Asia/Kathmandu', '2026-06-02T05:15:00Z'],
    ['2026-06-01T20:59:59Z', 'Pacific/Kiritimati', '2026-06-01T21:00:00Z'],
    ['2026-06-01T21:00:01Z', 'Pacific/Kiritimati', '2026-06-02T21:00:00Z'],
    ['2011-12-29T21:00:01Z', 'Pacific/Apia', '2011-12-30T21:00:00Z'],
    ['2026-06-01T02:00:01Z', 'Asia/Tokyo', '2026-06-02T02:00:00Z'],
    ['2026-06-01T21:30:00Z', 'Pacific/Pago_Pago', '2026-06-01T22:00:00Z'],
  ])('%s in %s is %s', (from, zone, expected) => {
    expect(iso(nextLocalTime(at(from), '11:00', zone))).toBe(expected)
  })
  test('a time that clocks leave out comes later by the gap', () => {
    expect(iso(nextLocalTime(at('2026-03-08T06:30:00Z'), '02:30', NEW_YORK))).toBe(
      '2026-03-08T07:30:00Z',
    )
  })
  test('a time that comes twice is used the first time only', () => {
    expect(iso(nextLocalTime(at('2026-11-01T05:45:00Z'), '01:30', NEW_YORK))).toBe(
      '2026-11-02T06:30:00Z',
    )
  })
})

describe('11:00 on permitted weekdays (1 is Monday)', () => {
  const WORKDAYS = [1, 2, 3, 4, 5]
  test.each([
    ['2026-03-06T16:00:01Z', NEW_YORK, WORKDAYS, '2026-03-09T15:00:00Z'],
    ['2026-10-30T15:00:01Z', NEW_YORK, WORKDAYS, '2026-11-02T16:00:00Z'],
    ['2026-10-23T09:00:01Z', 'Europe/Berlin', WORKDAYS, '2026-10-26T10:00:00Z'],
    ['2026-03-27T10:00:01Z', 'Europe/Berlin', WORKDAYS, '2026-03-30T09:00:00Z'],
    ['2026-06-05T23:00:00Z', 'Pacific/Kiritimati', WORKDAYS, '2026-06-07T21:00:00Z'],
    ['2026-06-06T00:30:00Z', 'America/Los_Angeles', WORKDAYS, '2026-06-08T18:00:00Z'],
    ['2026-06-02T12:00:00Z', 'Europe/Berlin', [1], '2026-06-08T09:00:00Z'],
    // That week had no Friday in Apia.
    ['2011-12-29T21:00:01Z', 'Pacific/Apia', [5], '2012-01-05T21:00:00Z'],
  ])('%s in %s on %j is %s', (from, zone, weekdays, expected) => {
    expect(iso(nextLocalTime(at(from), '11:00', zone, weekdays))).toBe(expected)
  })
})

describe('a day, then 11:00', () => {
  test.each([
    ['2026-03-07T15:30:00Z', NEW_YORK, '2026-03-08T15:00:00Z', '2026-03-09T15:00:00Z'],
    ['2026-10-31T15:30:00Z', NEW_YORK, '2026-11-02T16:00:00Z', '2026-11-01T16:00:00Z'],
    ['2026-03-28T09:30:00Z', 'Europe/Berlin', '2026-03-29T09:00:00Z', '2026-03-30T09:00:00Z'],
  ])('%s in %s: P1D gives %s, PT24H gives %s', (from, zone, oneDay, hours) => {
    const then = (duration: string) =>
      iso(nextLocalTime(addDuration(at(from), duration, zone), '11:00', zone))
    expect(then('P1D')).toBe(oneDay)
    expect(then('PT24H')).toBe(hours)
  })
})

describe('local times that do not exist, or twice', () => {
  test.each([
    [NEW_YORK, '2026-03-08', '02:30', '2026-03-08T07:30:00Z'],
    [NEW_YORK, '2026-11-01', '01:30', '2026-11-01T05:30:00Z'],
    ['Europe/Berlin', '2026-03-29', '02:30', '2026-03-29T01:30:00Z'],
    ['Europe/Berlin', '2026-10-25', '02:30', '2026-10-25T00:30:00Z'],
    ['Australia/Lord_Howe', '2026-10-04', '02:15', '2026-10-03T15:45:00Z'],
    ['Australia/Lord_Howe', '2026-04-05', '01:45', '2026-04-04T14:45:00Z'],
    ['Pacific/Apia', '2011-12-30', '11:00', '2011-12-30T21:00:00Z'],
  ])('%s %s %s is %s', (zone, date, time, expected) => {
    expect(iso(instantAt(date, time, zone))).toBe(expected)
  })
})

// Calendar arithmetic across changes of clocks; the same source.
describe('P1D and PT24H', () => {
  test.each([
    [NEW_YORK, '2026-03-07T16:00:00Z', '2026-03-08T15:00:00Z', '2026-03-08T16:00:00Z'],
    [NEW_YORK, '2026-03-07T07:30:00Z', '2026-03-08T07:30:00Z', '2026-03-08T07:30:00Z'],
    [NEW_YORK, '2026-10-31T15:00:00Z', '2026-11-01T16:00:00Z', '2026-11-01T15:00:00Z'],
    [NEW_YORK, '2026-11-01T04:30:00Z', '2026-11-02T05:30:00Z', '2026-11-02T04:30:00Z'],
    ['Australia/Lord_Howe', '2026-04-04T00:00:00Z', '2026-04-05T00:30:00Z', '2026-04-05T00:00:00Z'],
    ['Pacific/Apia', '2011-12-29T21:00:00Z', '2011-12-30T21:00:00Z', '2011-12-30T21:00:00Z'],
    ['America/Sao_Paulo', '2018-11-03T03:00:00Z', '2018-11-04T03:00:00Z', '2018-11-04T03:00:00Z'],
  ])('%s from %s', (zone, from, day, hours) => {
    expect(iso(addDuration(at(from), 'P1D', zone))).toBe(day)
    expect(iso(addDuration(at(from), 'PT24H', zone))).toBe(hours)
  })
})

test('on a calendar day, whatever the hour it counts from', () => {
  const on = (from: string) => iso(timeOnDayAfter(at(from), 'P2D', '09:00', 'Europe/Lisbon'))
  expect(on('2026-04-14T23:30:00Z')).toBe('2026-04-17T08:00:00Z')
  expect(on('2026-04-14T09:20:00Z')).toBe('2026-04-16T08:00:00Z')
})

test('beside a date: two days before at 09:00, and a month after at its own time', () => {
  const date = at('2026-05-09T13:00:00Z')
  const before = { direction: 'before', duration: 'P2D' } as const
  expect(iso(besideDate(date, before, '09:00', 'Europe/Lisbon'))).toBe('2026-05-07T08:00:00Z')
  // For a reader in Auckland the class begins on the tenth.
  expect(iso(besideDate(date, before, '09:00', 'Pacific/Auckland'))).toBe('2026-05-07T21:00:00Z')
  const after = { direction: 'after', duration: 'P1M' } as const
  expect(iso(besideDate(at('2026-01-31T12:00:00Z'), after, undefined, 'UTC'))).toBe(
    '2026-02-28T12:00:00Z',
  )
})

describe('quiet hours', () => {
  const night = { from: '21:00', to: '08:00' }
  const zone = 'Europe/Lisbon'
  test.each([
    ['2026-04-14T19:59:59Z', null],
    ['2026-04-14T20:00:00Z', '2026-04-15T07:00:00Z'],
    ['2026-04-15T02:00:00Z', '2026-04-15T07:00:00Z'],
    ['2026-04-15T07:00:00Z', null],
    // Clocks go forward in that night: it is an hour shorter.
    ['2026-03-28T22:00:00Z', '2026-03-29T07:00:00Z'],
  ])('%s', (now, until) => {
    const end = quietUntil(at(now), night, zone)
    expect(end === null ? null : iso(end)).toBe(until)
  })
  test('by day, and none at all', () => {
    const noon = at('2026-04-14T11:30:00Z')
    expect(iso(quietUntil(noon, { from: '12:00', to: '14:00' }, zone) ?? 0)).toBe(
      '2026-04-14T13:00:00Z',
    )
    expect(quietUntil(noon, { from: '12:00', to: '12:00' }, zone)).toBeNull()
  })
})

test('luxon finds the same next local time, away from changes of clocks (property)', () => {
  const zones = [
    NEW_YORK,
    'Europe/Lisbon',
    'Asia/Kathmandu',
    'Pacific/Auckland',
    'America/Sao_Paulo',
  ]
  Settings.throwOnInvalid = true
  fc.assert(
    fc.property(
      fc.integer({ min: at('2026-06-01T00:00:00Z'), max: at('2026-08-20T00:00:00Z') }),
      fc.constantFrom(...zones),
      fc.integer({ min: 0, max: 23 }),
      fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
      (from, zone, hour, weekdays) => {
        const found = nextLocalTime(from, `${String(hour).padStart(2, '0')}:00`, zone, weekdays)
        let expected = DateTime.fromMillis(from, { zone }).startOf('day').set({ hour })
        while (expected.toMillis() < from || !weekdays.includes(expected.weekday)) {
          expected = expected.plus({ days: 1 })
        }
        expect(found).toBe(expected.toMillis())
      },
    ),
  )
})

test('it is never before, never a week and a day away, and shows the time asked for (property)', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: at('2025-01-01T00:00:00Z'), max: at('2026-08-01T00:00:00Z') }),
      fc.constantFrom(NEW_YORK, 'Europe/Berlin', 'Australia/Lord_Howe', 'Asia/Tokyo'),
      fc.integer({ min: 1, max: 7 }),
      (from, zone, weekday) => {
        const found = nextLocalTime(from, '11:00', zone, [weekday])
        expect(found).toBeGreaterThanOrEqual(from)
        expect(found - from).toBeLessThanOrEqual(7 * DAY_MS + HOUR_MS)
        const local = DateTime.fromMillis(found, { zone })
        expect([local.hour, local.minute, local.weekday]).toEqual([11, 0, weekday])
      },
    ),
  )
})

test('a place has a zone only where it has one zone', () => {
  expect(zoneOfPlace('FI', null)).toBe('Europe/Helsinki')
  expect(zoneOfPlace('PT', null)).toBeNull()
  expect(zoneOfPlace('US', null)).toBeNull()
  expect(zoneOfPlace('US', 'CA')).toBe('America/Los_Angeles')
  expect(zoneOfPlace('US', 'TX')).toBeNull()
})

describe('at the very edge', () => {
  test('quiet hours begin with their first minute and are over at their last', () => {
    const noon = { from: '10:00', to: '12:00' }
    expect(quietUntil(at('2026-04-14T09:59:59Z'), noon, 'UTC')).toBeNull()
    expect(quietUntil(at('2026-04-14T10:00:00Z'), noon, 'UTC')).toBe(at('2026-04-14T12:00:00Z'))
    expect(quietUntil(at('2026-04-14T11:59:59Z'), noon, 'UTC')).toBe(at('2026-04-14T12:00:00Z'))
    expect(quietUntil(at('2026-04-14T12:00:00Z'), noon, 'UTC')).toBeNull()
  })
  test('a time that the change of clocks moved over midnight belongs to the day before', () => {
    // Nuuk went from 23:00 on 30 March 2024 to 00:00 on the 31st (tz database): 23:30 was at 00:30.
    expect(nextLocalTime(at('2024-03-31T01:10:00Z'), '23:30', 'America/Nuuk')).toBe(
      at('2024-03-31T01:30:00Z'),
    )
  })
})

test('the days a time touches follow each other without a gap, also where clocks change', () => {
  const days = localDays(at('2026-03-27T23:30:00Z'), at('2026-03-30T00:00:00Z'), 'Europe/Lisbon')
  expect(days.map(({ from, to }) => (to - from) / HOUR_MS)).toEqual([24, 24, 23, 24])
  expect(days.every(({ from }, index) => index === 0 || from === days[index - 1]?.to)).toBe(true)
  expect(days[0]?.from).toBe(at('2026-03-27T00:00:00Z'))
  // Apia had no 30 December 2011.
  const apia = localDays(at('2011-12-29T12:00:00Z'), at('2011-12-31T12:00:00Z'), 'Pacific/Apia')
  expect(apia.map(({ from, to }) => (to - from) / HOUR_MS)).toEqual([24, 24, 24])
})

test('the date at an instant is that of the zone', () => {
  const moment = Date.parse('2026-03-29T22:30:00Z')
  expect(dateIn(moment, 'Europe/Lisbon')).toBe('2026-03-29')
  expect(dateIn(moment, 'Pacific/Auckland')).toBe('2026-03-30')
})
