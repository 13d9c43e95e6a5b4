import { expect, test } from 'vitest'
import { DAY_MS } from '../shared/duration.ts'
import { seededRandom, type Random } from '../shared/seededRandom.ts'
import { askedBefore, checkForetold } from './check.ts'
import { expectedDays, expectReorder, ownGaps } from './expect.ts'
import type { ReorderInterval, ReorderIntervals } from './interval.ts'

const interval = (over: Partial<ReorderInterval> = {}): ReorderInterval => ({
  days: 31,
  low: 28,
  high: 35,
  soon: 14,
  late: 70,
  again: { share: 0.4, low: 0.36, high: 0.44 },
  purchases: 800,
  repeats: 300,
  variation: { within: 0.04, between: 0.12 },
  ...over,
})
const intervals = (one: ReorderInterval): ReorderIntervals => ({
  products: new Map([['pellets', one]]),
  categories: new Map([['Tools', interval({ days: 50 })]]),
})
const PELLETS = { productId: 'pellets', category: 'Tools' }

test('who has bought it once is expected when half of everybody has come back', () => {
  expect(expectedDays(intervals(interval()), PELLETS, [])).toEqual({
    by: 'product',
    days: 31,
    soon: 14,
    late: 70,
    again: 40,
    ownGaps: 0,
    ownDays: null,
  })
})

test('a product that is not known enough goes by its category, one of an unknown category by nothing', () => {
  const known = intervals(interval())
  expect(expectedDays(known, { productId: 'new', category: 'Tools' }, [])?.by).toBe('category')
  expect(expectedDays(known, { productId: 'new', category: 'Books' }, [])).toBeNull()
  expect(expectedDays(known, { productId: 'new', category: null }, [])).toBeNull()
})

test('own gaps count the more, the more there are', () => {
  // By hand: one gap of 20 days has the weight 0.12 / (0.12 + 0.04) = 0.75, three have 0.9:
  // exp(ln 31 + 0.75 (ln 20 − ln 31)) = 22.3, exp(ln 31 + 0.9 (ln 20 − ln 31)) = 20.9.
  const known = intervals(interval())
  expect(expectedDays(known, PELLETS, [20])).toMatchObject({ by: 'person', days: 22, ownDays: 20, ownGaps: 1 }) // prettier-ignore
  expect(expectedDays(known, PELLETS, [20, 20, 20])).toMatchObject({ by: 'person', days: 21 })
})

test('four in five are wider where less is known', () => {
  const known = intervals(interval())
  const width = (gaps: number[]) => {
    const { soon = 0, late = 0 } = expectedDays(known, PELLETS, gaps) ?? {}
    return late - soon
  }
  expect(width([31])).toBeGreaterThan(width([31, 31, 31, 31]))
})

test('where people do not differ, or that is not known, nobody has a rhythm of their own', () => {
  for (const variation of [null, { within: 0.2, between: 0 }]) {
    expect(expectedDays(intervals(interval({ variation })), PELLETS, [10, 10])?.by).toBe('product')
  }
})

test('days are those of the calendar', () => {
  // Clocks go forward on 29 March: 31 days later it is ten o'clock again, though an hour less has passed.
  const at = Date.parse('2026-03-20T10:00:00Z')
  const expected = expectReorder(intervals(interval()), PELLETS, { at, gapsBefore: [], zone: 'Europe/Lisbon' }) // prettier-ignore
  expect(new Date(expected?.at ?? 0).toISOString()).toBe('2026-04-20T09:00:00.000Z')
})

test('what follows within a day, or after more than a year, is no gap', () => {
  expect(ownGaps([0, 0.5 * DAY_MS, 30.5 * DAY_MS, 500 * DAY_MS])).toEqual([30])
})

test('own rhythm foretells better than everybody’s, as often as is said (simulation, seeded)', () => {
  const random = seededRandom(11)
  const [within, between] = [0.2 ** 2, 0.35 ** 2]
  const known = intervals(interval({ variation: { within, between }, days: 45 }))
  let [own, everybody, inside] = [0, 0, 0]
  const people = 3000
  for (let person = 0; person < people; person += 1) {
    const rhythm = Math.log(45) + Math.sqrt(between) * normal(random)
    const next = () =>
      Math.max(1, Math.round(Math.exp(rhythm + Math.sqrt(within) * normal(random))))
    const gaps = [next(), next()]
    const came = next()
    const expected = expectedDays(known, PELLETS, gaps)
    own += Math.abs(Math.log(came / (expected?.days ?? 0)))
    everybody += Math.abs(Math.log(came / 45))
    if (expected && came >= expected.soon && came <= expected.late) inside += 1
  }
  expect(own / everybody).toBeLessThan(0.65)
  expect(inside / people).toBeGreaterThan(0.78)
  expect(inside / people).toBeLessThan(0.84)
})

const normal = (random: Random): number =>
  Math.sqrt(-2 * Math.log(1 - random.next())) * Math.cos(2 * Math.PI * random.next())

test('what was foretold is held against what came', () => {
  const day = (days: number) => days * DAY_MS
  const check = checkForetold(
    [
      { expectedAt: day(10), nextAt: day(4) },
      { expectedAt: day(10), nextAt: day(12.5) },
      { expectedAt: day(12), nextAt: day(40) },
      { expectedAt: day(13), nextAt: null },
      // Came after the end: not yet, then. Expected outside of the time: not asked about.
      { expectedAt: day(14), nextAt: day(70) },
      { expectedAt: day(-1), nextAt: day(10) },
      { expectedAt: day(61), nextAt: null },
    ],
    { from: 0, until: day(60) },
  )
  expect(check).toEqual({
    came: [
      { days: -6, count: 1 },
      { days: 2, count: 1 },
      { days: 28, count: 1 },
    ],
    notYet: 2,
  })
  expect(askedBefore(check, 0)).toEqual({ tooLate: 1, within: 1, later: 1, notYet: 2 })
  expect(askedBefore(check, 7)).toEqual({ tooLate: 0, within: 1, later: 2, notYet: 2 })
})
