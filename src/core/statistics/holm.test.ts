import fc from 'fast-check'
import { expect, test } from 'vitest'
import { holmAdjusted } from './holm.ts'

test('a textbook example (R, p.adjust)', () => {
  const adjusted = holmAdjusted([0.01, 0.04, 0.03, 0.005])
  for (const [index, p] of [0.03, 0.06, 0.06, 0.02].entries()) {
    expect(adjusted[index]).toBeCloseTo(p, 10)
  }
})

// The fifteen values of Benjamini and Hochberg, J. R. Stat. Soc. B 57 (1995) (from memory; R, p.adjust).
test('of fifteen three remain', () => {
  const values = [0.0001, 0.0004, 0.0019, 0.0095, 0.0201, 0.0278, 0.0298, 0.0344, 0.0459, 0.324, 0.4262, 0.5719, 0.6528, 0.759, 1] // prettier-ignore
  const adjusted = holmAdjusted(values)
  expect(adjusted.filter((p) => p <= 0.05)).toHaveLength(3)
  expect(adjusted[3]).toBeCloseTo(0.114, 10)
})

test('nothing becomes more certain, and the order stays (property)', () => {
  const share = fc.double({ min: 0, max: 1, noNaN: true })
  fc.assert(
    fc.property(fc.array(share, { maxLength: 12 }), (values) => {
      const adjusted = holmAdjusted(values)
      for (const [index, p] of values.entries()) {
        expect(adjusted[index]).toBeGreaterThanOrEqual(p)
        for (const [other, q] of values.entries()) {
          if (p < q) expect(adjusted[index]).toBeLessThanOrEqual(adjusted[other] ?? NaN)
        }
      }
    }),
  )
})
