import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { DAY_MS } from './duration.ts'
import { parseInstant } from './time.ts'
import { daysSince, daysUntil, readYearDay } from './yearDay.ts'

test.each([
  ['1988-04-17', '04-17'],
  ['04-17', '04-17'],
  // RFC 6350, 4.3.1: a date without a year.
  ['--04-17', '04-17'],
  ['2000-02-29', '02-29'],
  ['02-30', null],
  ['13-01', null],
  ['17 April', null],
  ['', null],
])('%s is the day %s', (text, day) => {
  expect(readYearDay(text)).toBe(day)
})

describe('how far away it is', () => {
  const at = (text: string): number => parseInstant(text) ?? NaN
  test.each([
    ['04-17', '2026-04-17T09:00:00Z', 0, 0],
    ['04-17', '2026-04-16T09:00:00Z', 1, 364],
    ['04-17', '2026-04-18T09:00:00Z', 364, 1],
    // Over the turn of the year.
    ['01-02', '2026-12-30T12:00:00Z', 3, 362],
    // 29 February where there is none, and where there is.
    ['02-29', '2026-02-28T12:00:00Z', 0, 0],
    ['02-29', '2028-02-28T12:00:00Z', 1, 365],
    ['02-29', '2028-02-29T12:00:00Z', 0, 0],
  ])('%s at %s', (day, now, until, since) => {
    expect([daysUntil(day, at(now), 'UTC'), daysSince(day, at(now), 'UTC')]).toEqual([until, since])
  })

  test('goes by the calendar of the zone', () => {
    const now = at('2026-04-16T23:30:00Z')
    expect(daysUntil('04-17', now, 'UTC')).toBe(1)
    expect(daysUntil('04-17', now, 'Europe/Lisbon')).toBe(0)
  })

  test('one day later it is one day nearer, until it is there (property)', () => {
    const day = fc
      .tuple(fc.integer({ min: 1, max: 12 }), fc.integer({ min: 1, max: 31 }))
      .map(([month, date]) =>
        readYearDay(`${String(month).padStart(2, '0')}-${String(date).padStart(2, '0')}`),
      ) // prettier-ignore
      .filter((one) => one !== null)
    const start = at('2024-01-01T12:00:00Z')
    fc.assert(
      fc.property(day, fc.integer({ min: 0, max: 3000 }), (one, after) => {
        const now = start + after * DAY_MS
        const until = daysUntil(one, now, 'UTC')
        const next = daysUntil(one, now + DAY_MS, 'UTC')
        if (until > 0) expect(next).toBe(until - 1)
        else expect([364, 365]).toContain(next)
        expect(daysSince(one, now + until * DAY_MS, 'UTC')).toBe(0)
      }),
    )
  })
})
