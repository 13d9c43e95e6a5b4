import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { differenceInterval, rateInterval, rateOf } from './rates.ts'

// Newcombe, Statistics in Medicine 17 (1998) 857-872, Table I (citation from memory; values recomputed).
test.each([
  [81, 263, 0.2553, 0.3662],
  [15, 148, 0.0624, 0.1605],
  [0, 20, 0, 0.1611],
  [1, 29, 0.0061, 0.1718],
])('%i of %i lie between %f and %f (Wilson)', (did, of, low, high) => {
  const interval = rateInterval({ did, of })
  expect(interval?.low).toBeCloseTo(low, 4)
  expect(interval?.high).toBeCloseTo(high, 4)
})

// Newcombe, Statistics in Medicine 17 (1998) 873-890, Table II, method 10 (citation from memory; values recomputed).
test.each([
  [56, 70, 48, 80, 0.0524, 0.3339],
  [9, 10, 3, 10, 0.1705, 0.809],
  [6, 7, 2, 7, 0.0582, 0.8062],
  [5, 56, 0, 29, -0.0381, 0.1926],
  [0, 10, 0, 20, -0.1611, 0.2775],
  [0, 10, 0, 10, -0.2775, 0.2775],
  [10, 10, 0, 20, 0.6791, 1],
  [10, 10, 0, 10, 0.6075, 1],
])('%i/%i and %i/%i differ by %f to %f', (did, of, otherDid, otherOf, low, high) => {
  const interval = differenceInterval({ did, of }, { did: otherDid, of: otherOf })
  expect(interval?.low).toBeCloseTo(low, 4)
  expect(interval?.high).toBeCloseTo(high, 4)
})

describe('what cannot be said', () => {
  test('of nobody there is no rate', () => {
    expect(rateOf({ did: 0, of: 0 })).toBeNull()
    expect(rateInterval({ did: 0, of: 0 })).toBeNull()
    expect(differenceInterval({ did: 0, of: 0 }, { did: 1, of: 2 })).toBeNull()
  })
  test.each([
    [3, 2],
    [-1, 2],
    [0.5, 2],
    [1, NaN],
  ])('%f of %f is no count', (did, of) => {
    expect(() => rateOf({ did, of })).toThrow(RangeError)
  })
})

test('an interval holds its rate, and swapping two arms turns the difference (property)', () => {
  const count = fc
    .integer({ min: 1, max: 5000 })
    .chain((of) => fc.record({ of: fc.constant(of), did: fc.integer({ min: 0, max: of }) }))
  fc.assert(
    fc.property(count, count, (a, b) => {
      const interval = rateInterval(a)
      const rate = rateOf(a) ?? NaN
      expect(interval?.low).toBeLessThanOrEqual(rate + 1e-12)
      expect(interval?.high).toBeGreaterThanOrEqual(rate - 1e-12)
      const one = differenceInterval(a, b)
      const other = differenceInterval(b, a)
      expect(one?.low).toBeCloseTo(-(other?.high ?? NaN), 10)
    }),
  )
})
