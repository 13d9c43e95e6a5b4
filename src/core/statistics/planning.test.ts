import { expect, test } from 'vitest'
import { peoplePerArm, powerOf } from './planning.ts'

test.each([
  // Fleiss' table without his correction; R's power.prop.test gives 355.94.
  [0.6, 0.7, 0.8, 356],
  // R, help of power.prop.test: "n = 76.7".
  [0.5, 0.75, 0.9, 77],
  // Own examples, recomputed with R.
  [0.1, 0.12, 0.8, 3841],
  [0.05, 0.06, 0.8, 8158],
  [0.032, 0.066, 0.8, 632],
])('%f and %f with power %f need %i people an arm', (first, second, power, people) => {
  expect(peoplePerArm(first, second, { power })).toBe(people)
  expect(peoplePerArm(second, first, { power })).toBe(people)
})

test('fifty people an arm see 0.50 against 0.75 in 0.740 of cases (R, help of power.prop.test)', () => {
  expect(powerOf(50, 0.5, 0.75)).toBeCloseTo(0.7402, 3)
})

test('what does not differ cannot be told apart', () => {
  expect(() => peoplePerArm(0.1, 0.1)).toThrow(RangeError)
  expect(() => peoplePerArm(-0.1, 0.1)).toThrow(RangeError)
})
