import { describe, expect, test } from 'vitest'
import { at, beforePayment } from '../../testing/builders.ts'
import { aLine, facts } from '../../testing/coreFacts.ts'
import { DAY_MS } from '../shared/duration.ts'
import {
  dateRange,
  datesOf,
  isStillDue,
  MAKE_UP_DAYS,
  newDates,
  nextSweep,
  startsAtOnce,
  triggerMoment,
} from './dateTrigger.ts'

const DATE = at('2026-05-09T15:00:00Z')
const zone = 'Europe/Lisbon'

describe('the moment of a date', () => {
  test('lies so many days of the calendar before or after it, at its hour', () => {
    const trigger = beforePayment({ days: 7, at: '09:00' })
    expect(triggerMoment(trigger, DATE, zone)).toBe(at('2026-05-02T08:00:00Z'))
    const after = beforePayment({ days: 7, at: '09:00', direction: 'after' })
    expect(triggerMoment(after, DATE, zone)).toBe(at('2026-05-16T08:00:00Z'))
  })
})

describe('what was missed', () => {
  const before = beforePayment({ days: 7, at: '09:00' })
  const after = beforePayment({ days: 7, at: '09:00', direction: 'after' })
  const due = (trigger: typeof before, moment: number, now: number) =>
    isStillDue(trigger, { date: DATE, moment, now, zone })

  test('before a date is made up for until the date itself', () => {
    const moment = triggerMoment(before, DATE, zone)
    expect(due(before, moment, DATE - 1)).toBe(true)
    expect(due(before, moment, DATE)).toBe(false)
  })
  test('after it for three days', () => {
    const moment = triggerMoment(after, DATE, zone)
    expect(due(after, moment, moment + MAKE_UP_DAYS * DAY_MS - 1)).toBe(true)
    expect(due(after, moment, moment + MAKE_UP_DAYS * DAY_MS)).toBe(false)
  })
  test('on the day itself, at an hour later than the date’s own, until that day is over', () => {
    const midnight = at('2026-05-08T23:00:00Z')
    const moment = at('2026-05-09T08:00:00Z')
    const asked = (now: number) => isStillDue(before, { date: midnight, moment, now, zone })
    expect(asked(at('2026-05-09T22:59:59Z'))).toBe(true)
    expect(asked(at('2026-05-09T23:00:00Z'))).toBe(false)
  })
})

describe('a date that is set or moved nearer than the lead', () => {
  const when = (now: number) => ({ date: DATE, moment: DATE - 7 * DAY_MS, now, zone })
  test('starts at once where the trigger says so, from the moment itself on, until the date', () => {
    const trigger = beforePayment({ ifNearer: 'startAtOnce' })
    expect(startsAtOnce(trigger, when(DATE - 7 * DAY_MS - 1))).toBe(false)
    expect(startsAtOnce(trigger, when(DATE - 7 * DAY_MS))).toBe(true)
    expect(startsAtOnce(trigger, when(DATE - 1))).toBe(true)
    expect(startsAtOnce(trigger, when(DATE))).toBe(false)
  })
  test('starts nothing anywhere else', () => {
    expect(startsAtOnce(beforePayment(), when(DATE - DAY_MS))).toBe(false)
    const after = beforePayment({ ifNearer: 'startAtOnce', direction: 'after' })
    expect(startsAtOnce(after, { ...when(DATE), moment: DATE })).toBe(false)
  })
})

describe('the dates of a thing', () => {
  const lines = [
    aLine({ startsAt: DATE }),
    aLine({ startsAt: null }),
    aLine({ startsAt: DATE + 1 }),
  ]
  test('are one for each line where lines have them, else one or none', () => {
    expect(datesOf('line.startsAt', facts({ order: { lines } }))).toEqual([
      { line: 0, date: DATE },
      { line: 2, date: DATE + 1 },
    ])
    expect(datesOf('order.placedAt', facts({ order: { placedAt: DATE } }))).toEqual([
      { line: null, date: DATE },
    ])
    expect(datesOf('order.placedAt', facts({ order: { placedAt: null } }))).toEqual([])
    expect(() => datesOf('order.never', facts())).toThrow(RangeError)
  })
  test('are new where they were set or moved; the same date on another line is new, too', () => {
    const was = [
      { line: 0, date: DATE },
      { line: 1, date: DATE + 1 },
    ]
    expect(newDates([{ line: 0, date: DATE }], was)).toEqual([])
    expect(newDates([{ line: 0, date: DATE + 5 }], was)).toEqual([{ line: 0, date: DATE + 5 }])
    expect(newDates([{ line: 2, date: DATE }], was)).toEqual([{ line: 2, date: DATE }])
  })
})

describe('looking for dates', () => {
  const trigger = beforePayment({ days: 7, at: '09:00' })
  test('the next look is when it is that hour in the first of the zones', () => {
    const now = at('2026-05-01T12:00:00Z')
    expect(nextSweep(trigger, now, ['Europe/Lisbon', 'Asia/Tokyo'])).toBe(
      at('2026-05-02T00:00:00Z'),
    )
    // At that very moment the next one is meant.
    expect(nextSweep(trigger, at('2026-05-02T08:00:00Z'), [zone])).toBe(at('2026-05-03T08:00:00Z'))
  })
  test.each(['before', 'after'] as const)(
    'no date whose moment comes lies outside the range (%s)',
    (direction) => {
      const own = beforePayment({ days: 7, at: '23:59', direction })
      for (const where of ['Pacific/Kiritimati', 'Pacific/Pago_Pago', 'Europe/Lisbon']) {
        const moment = triggerMoment(own, DATE, where)
        const { from, to } = dateRange(own, moment - 1, moment)
        expect(from).toBeLessThan(DATE)
        expect(to).toBeGreaterThan(DATE)
      }
    },
  )
})
