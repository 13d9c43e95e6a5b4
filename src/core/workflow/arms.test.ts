import { expect, test } from 'vitest'
import { armFor, rollOf } from './arms.ts'

const arms = [
  { key: 'a', weight: 50 },
  { key: 'b', weight: 50 },
  { key: 'unused', weight: 0 },
]

test.each([
  [0, 'a'],
  [0.4999, 'a'],
  // The edge belongs to the arm it begins.
  [0.5, 'b'],
  [0.9999, 'b'],
  // What rounding may make of the largest roll.
  [1, 'b'],
])('a roll of %f falls on %s', (roll, key) => {
  expect(armFor(arms, roll).key).toBe(key)
})

test('without arms there is nothing to draw', () => {
  expect(() => armFor([], 0.5)).toThrow(RangeError)
})

test('the same person has another number in another lottery, and the same in the same', () => {
  expect(rollOf('one', 'c1')).toBe(rollOf('one', 'c1'))
  expect(rollOf('one', 'c1')).not.toBe(rollOf('two', 'c1'))
  expect(rollOf('one', 'c1')).not.toBe(rollOf('one', 'c2'))
})
