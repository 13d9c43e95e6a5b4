import { describe, expect, test } from 'vitest'
import { RATIO_ALARM, sampleRatio } from './sampleRatio.ts'

const parted = (people: readonly number[], weights: readonly number[]) =>
  sampleRatio(people.map((count, index) => ({ people: count, weight: weights[index] ?? 0 })))

test.each([
  // Kohavi, Tang, Xu, Trustworthy Online Controlled Experiments: their example of a broken ratio (from memory).
  [[821588, 815482], [50, 50], 22.7744, 1.82e-6],
  // R, help of chisq.test.
  [[89, 37, 30, 28, 2], [40, 20, 20, 15, 5], 9.99014, 0.040594],
  // Own examples, recomputed with R.
  [[5100, 4900], [50, 50], 4, 0.0455],
  [[8900, 1100], [90, 10], 11.1111, 8.581e-4],
  [[61, 63], [50, 50], 0.03226, 0.8575],
])('%j at %j', (people, weights, chiSquare, p) => {
  const found = parted(people, weights)
  expect(found?.chiSquare).toBeCloseTo(chiSquare, 3)
  expect((found?.p ?? NaN) / p).toBeCloseTo(1, 2)
})

describe('what cannot be said', () => {
  test('of nobody nothing', () => {
    expect(parted([0, 0], [50, 50])).toBeNull()
  })
  test('of one arm, or of people in an arm that nobody should get', () => {
    expect(() => parted([5], [100])).toThrow(RangeError)
    expect(() => parted([5, 5, 1], [50, 50, 0])).toThrow(RangeError)
  })
})

test('an arm that nobody gets does not count as one', () => {
  expect(parted([5100, 4900, 0], [50, 50, 0])?.p).toBeCloseTo(0.0455, 4)
  expect(RATIO_ALARM).toBe(0.001)
})
