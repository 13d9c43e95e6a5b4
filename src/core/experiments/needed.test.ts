import fc from 'fast-check'
import { expect, test } from 'vitest'
import { USUAL_PLAN } from '../workflow/testPlan.ts'
import { leastSeen, peopleNeeded } from './needed.ts'

const share = (mean: number) => ({ mean, variance: mean * (1 - mean) })

test.each([
  // R, power.prop.test, an arm; two of them.
  [0.1, 0.02, 3841 * 2],
  [0.05, 0.01, 8158 * 2],
])('a share of %f and a difference of %f take %i people in all', (mean, least, people) => {
  expect(peopleNeeded({ ...USUAL_PLAN, least }, share(mean), [50, 50])).toBe(people)
})

test('means by n = 2 σ² (1.96 + 0.8416)² / δ² an arm (common practice)', () => {
  const plan = { ...USUAL_PLAN, measure: 'revenue' as const, least: 100 }
  expect(peopleNeeded(plan, { mean: 500, variance: 2000 ** 2 }, [1, 1])).toBe(6280 * 2)
})

test('unequal arms take more: a holdout of a tenth nearly three times as many', () => {
  const even = peopleNeeded(USUAL_PLAN, share(0.1), [50, 50]) ?? 0
  const uneven = peopleNeeded(USUAL_PLAN, share(0.1), [90, 10]) ?? 0
  // 1 / (4 · 0.9 · 0.1)
  expect(uneven / even).toBeCloseTo(2.78, 2)
})

test('an arm without weight is none', () => {
  expect(peopleNeeded(USUAL_PLAN, share(0.1), [50, 50, 0])).toBe(7682)
  expect(peopleNeeded(USUAL_PLAN, share(0.1), [100, 0])).toBeNull()
})

test('what so many people show is what takes that many', () => {
  fc.assert(
    fc.property(fc.integer({ min: 500, max: 100_000 }), fc.double({ min: 0.02, max: 0.6, noNaN: true }), (people, mean) => {
      const least = leastSeen(USUAL_PLAN, share(mean), [50, 50], people)
      if (least === null) return
      const needed = peopleNeeded({ ...USUAL_PLAN, least }, share(mean), [50, 50]) ?? Infinity
      expect(needed).toBeLessThanOrEqual(people)
    }),
  ) // prettier-ignore
  expect(leastSeen(USUAL_PLAN, share(0.1), [50, 50], 7682)).toBeCloseTo(0.02, 4)
})
