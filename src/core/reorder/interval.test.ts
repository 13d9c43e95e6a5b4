import { expect, test } from 'vitest'
import { seededRandom, type Random } from '../shared/seededRandom.ts'
import { DAY_MS } from '../shared/duration.ts'
import { reorderInterval, reorderIntervals, variationOf, LEAST_REPEATS } from './interval.ts'
import { gapsOf, type Purchase } from './purchases.ts'

const gap = (days: number, came: boolean, count = 1) => ({ days, came, count })

/** Sums of the values of groups, as they are; the code under test takes logarithms before. */
function sumsOf(groups: readonly (readonly number[])[]) {
  const meanOf = (own: readonly number[]) => own.reduce((sum, x) => sum + x, 0) / own.length
  const all = groups.flat()
  return {
    people: groups.length,
    gaps: all.length,
    squares: groups.reduce((sum, own) => sum + own.length ** 2, 0),
    sum: all.reduce((sum, x) => sum + x, 0),
    within: groups.reduce((sum, own) => sum + own.reduce((s, x) => s + (x - meanOf(own)) ** 2, 0), 0),
    between: groups.reduce((sum, own) => sum + own.length * meanOf(own) ** 2, 0),
  } // prettier-ignore
}

test('the half is that of those who buy again; who is still watched is not taken for gone', () => {
  // Worked by hand: of 100 bought, 20 came after 10 days; 40 were watched no longer than 15; of the 40 left 10 came after
  // 20 and 10 after 30. Still without it: 0.8, then 0.8 × 30/40 = 0.6, then 0.6 × 20/30 = 0.4.
  const interval = reorderInterval(
    [gap(10, true, 20), gap(15, false, 40), gap(20, true, 10), gap(30, true, 10), gap(365, false, 20)],
    [],
  ) // prettier-ignore
  expect(interval).toMatchObject({ days: 20, soon: 10, late: 30, purchases: 100, repeats: 40 })
  expect(interval?.again.share).toBeCloseTo(0.6, 12)
})

test('without those still watched left in, the half would come too early', () => {
  const slow = [gap(10, true, 30), gap(60, true, 30), gap(30, false, 100)]
  expect(reorderInterval(slow, [])?.days).toBe(60)
})

test('too few repeats say nothing', () => {
  expect(reorderInterval([gap(10, true, LEAST_REPEATS - 1), gap(50, false, 900)], [])).toBeNull()
})

test('parts of variance are those of a published example', () => {
  // Davies, Goldsmith, Statistical Methods in Research and Production (1972), yields of dyestuff from six batches; 1764.05 and
  // 2451.25 as mixed-model software reports them (from memory).
  const batches = [
    [1545, 1440, 1440, 1520, 1580],
    [1540, 1555, 1490, 1560, 1495],
    [1595, 1550, 1605, 1510, 1560],
    [1445, 1440, 1595, 1465, 1545],
    [1595, 1630, 1515, 1635, 1625],
    [1520, 1455, 1450, 1480, 1445],
  ]
  const variation = variationOf([sumsOf(batches)])
  expect(variation?.within).toBeCloseTo(2451.25, 2)
  expect(variation?.between).toBeCloseTo(1764.05, 2)
})

test('parts of variance of groups of unequal size are found again in what was drawn with them', () => {
  const random = seededRandom(7)
  const groups = Array.from({ length: 4000 }, () => {
    const middle = 3 + 0.5 * normal(random)
    return Array.from({ length: 1 + random.between(0, 4) }, () => middle + 0.3 * normal(random))
  })
  const found = variationOf([sumsOf(groups)])
  expect(found?.within).toBeCloseTo(0.09, 2)
  expect(found?.between).toBeCloseTo(0.25, 1)
})

test('products of a category may differ in their means without people differing', () => {
  const random = seededRandom(8)
  const product = (middle: number) =>
    sumsOf(Array.from({ length: 500 }, () => [1, 2].map(() => middle + 0.3 * normal(random))))
  expect(variationOf([product(2), product(5)])?.between).toBeLessThan(0.01)
})

test('the half lies in its interval as often as is said (simulation, seeded)', () => {
  const random = seededRandom(42)
  let held = 0
  const rounds = 400
  for (let round = 0; round < rounds; round += 1) {
    const gaps = Array.from({ length: 150 }, () => {
      const days = Math.max(1, Math.round(Math.exp(Math.log(40) + 0.5 * normal(random))))
      const watched = random.between(1, 365)
      if (!random.chance(0.6)) return gap(watched, false)
      return days <= watched ? gap(days, true) : gap(watched, false)
    })
    const interval = reorderInterval(gaps, [])
    if (interval && interval.low <= 40 && 40 <= interval.high) held += 1
  }
  expect(held / rounds).toBeGreaterThan(0.93)
})

const normal = (random: Random): number =>
  Math.sqrt(-2 * Math.log(1 - random.next())) * Math.cos(2 * Math.PI * random.next())

const bought = (customerId: string, day: number, productId = 'pellets'): Purchase => ({
  customerId,
  productId,
  category: 'Tools',
  at: day * DAY_MS,
})

test('gaps go from one purchase of a person to the next; the last is watched until now', () => {
  const { gaps, sums } = gapsOf([bought('a', 0), bought('b', 5), bought('a', 30), bought('a', 30.4)], 100 * DAY_MS) // prettier-ignore
  expect(gaps).toEqual([
    { productId: 'pellets', category: 'Tools', days: 30, came: true, count: 1 },
    { productId: 'pellets', category: 'Tools', days: 69, came: false, count: 1 },
    { productId: 'pellets', category: 'Tools', days: 95, came: false, count: 1 },
  ])
  expect(sums).toMatchObject([{ people: 1, gaps: 1, sum: Math.log(30) }])
})

test('who comes back after more than a year has not come back', () => {
  const { gaps } = gapsOf([bought('a', 0), bought('a', 400)], 410 * DAY_MS)
  expect(gaps.map(({ days, came }) => [days, came])).toEqual([
    [365, false],
    [10, false],
  ])
})

test('a category pools what its products tell', () => {
  const some = Array.from({ length: 15 }, (_, index) => [
    bought(`a${index}`, 0, 'syrup'),
    bought(`a${index}`, 20, 'syrup'),
    bought(`b${index}`, 0, 'fondant'),
    bought(`b${index}`, 40, 'fondant'),
  ]).flat()
  const { gaps, sums } = gapsOf(some, 41 * DAY_MS)
  const { products, categories } = reorderIntervals(gaps, sums)
  expect([...products.keys()]).toEqual([])
  // By hand: 15 of the 45 who are still watched come after 20 days, all the 15 who are after 40.
  expect(categories.get('Tools')).toMatchObject({ soon: 20, days: 40, repeats: 30, purchases: 60 })
})
