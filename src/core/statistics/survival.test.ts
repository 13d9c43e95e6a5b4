import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  shareBy,
  survivalCurve,
  timeUntilShare,
  timeUntilShareInterval,
  type Watched,
} from './survival.ts'

/** "6 6 6+": a plus where it had not come yet. */
const read = (text: string): Watched[] =>
  text.split(' ').map((one) => ({ time: Number.parseFloat(one), came: !one.endsWith('+') }))

// Freireich (1963), Gehan (1965): weeks of remission with 6-MP, as R's MASS::gehan has them (Cox, Oakes 1984, p. 7).
describe('the remission times', () => {
  const curve = survivalCurve(
    read('6 6 6 6+ 7 9+ 10 10+ 11+ 13 16 17+ 19+ 20+ 22 23 25+ 32+ 32+ 34+ 35+'),
  )
  test.each([
    [6, 21, 3, 6 / 7, 0.07636],
    [7, 17, 1, 96 / 119, 0.086935],
    [10, 15, 1, 64 / 85, 0.09635],
    [13, 12, 1, 176 / 255, 0.106815],
    [16, 11, 1, 32 / 51, 0.114054],
    [22, 7, 1, 64 / 119, 0.128234],
    [23, 6, 1, 160 / 357, 0.134591],
  ])('at %i', (time, atRisk, came, still, error) => {
    const step = curve.find((one) => one.time === time)
    expect(step).toMatchObject({ atRisk, came })
    expect(step?.still).toBeCloseTo(still, 10)
    expect(step?.error).toBeCloseTo(error, 6)
  })
  test('half have it after 23, a quarter after 13', () => {
    expect(curve).toHaveLength(7)
    expect(timeUntilShare(curve)).toBe(23)
    expect(timeUntilShare(curve, 0.25)).toBe(13)
  })
  // By the errors above: still − 1.96 error passes a half at 13 (0.6902 − 0.2094), still + 1.96 error never does.
  test('between which times half have it', () => {
    expect(timeUntilShareInterval(curve, 0.5)).toEqual({ time: 23, low: 13, high: null })
    const at10 = curve.find(({ time }) => time === 10)
    expect(at10 && shareBy(at10)).toEqual({
      share: expect.closeTo(0.2471, 4) as number,
      low: expect.closeTo(0.0582, 4) as number,
      high: expect.closeTo(0.4359, 4) as number,
    })
  })
})

test('the controls, watched to the end', () => {
  const curve = survivalCurve(read('1 1 2 2 3 4 4 5 5 8 8 8 8 11 11 12 12 15 17 22 23'))
  expect(timeUntilShare(curve)).toBe(8)
  expect(curve.find(({ time }) => time === 8)?.still).toBeCloseTo(0.380952, 6)
  expect(curve.at(-1)).toMatchObject({ time: 23, still: 0 })
})

// Kaplan, Meier (1958), their own example.
test('eight who were watched', () => {
  const curve = survivalCurve(read('0.8 1.0+ 2.7+ 3.1 5.4 7.0+ 9.2 12.1+'))
  expect(curve.map(({ time }) => time)).toEqual([0.8, 3.1, 5.4, 9.2])
  for (const [index, still] of [7 / 8, 7 / 10, 21 / 40, 21 / 80].entries()) {
    expect(curve[index]?.still).toBeCloseTo(still, 10)
  }
})

test('where it came for nobody there is no step, and no time until half have it', () => {
  expect(survivalCurve(read('5+ 9+'))).toEqual([])
  expect(timeUntilShare(survivalCurve(read('5+ 9+')))).toBeNull()
  expect(survivalCurve([])).toEqual([])
})

test('it only falls; watched to the end it is the share that is left (property)', () => {
  const one = fc.record({ time: fc.integer({ min: 0, max: 40 }), came: fc.boolean() })
  fc.assert(
    fc.property(fc.array(one, { maxLength: 60 }), (watched) => {
      const curve = survivalCurve(watched)
      curve.reduce((before, { still }) => {
        expect(still).toBeLessThanOrEqual(before)
        expect(still).toBeGreaterThanOrEqual(0)
        return still
      }, 1)
      const toTheEnd = watched.map(({ time }) => ({ time, came: true }))
      for (const { time, still } of survivalCurve(toTheEnd)) {
        const left = toTheEnd.filter((other) => other.time > time).length / toTheEnd.length
        expect(still).toBeCloseTo(left, 10)
      }
    }),
  )
})
