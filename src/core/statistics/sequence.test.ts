import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { seededRandom } from '../shared/seededRandom.ts'
import { differenceInterval } from './rates.ts'
import { alwaysValidInterval, tightestAt, type Arm } from './sequence.ts'

const rate = (did: number, people: number): Arm => {
  const mean = did / people
  return { people, mean, variance: mean * (1 - mean) }
}

// Waudby-Smith and others give the rule; the numbers were computed with NumPy and SciPy.
test.each([
  [1000, 0.0890851],
  [5000, 0.0398401],
])('planned for %i people', (plan, rho) => {
  expect(tightestAt(plan)).toBeCloseTo(rho, 6)
})

test.each([
  [100, 0.1927527],
  [500, 0.0689507],
  [1000, 0.0479909],
  [2000, 0.0342284],
  [10_000, 0.0162086],
])('after %i people of variance 0.25 it reaches %f to both sides', (people, half) => {
  // Two arms of an eighth each have 0.25 in all when they get half the people.
  const arm: Arm = { people: people / 2, mean: 0, variance: 0.0625 }
  const interval = alwaysValidInterval(arm, arm, { weight: 0.5, plan: 1000 })
  expect(interval?.high).toBeCloseTo(half, 6)
})

test.each([
  [90, 1500, 60, 1500, 0.5, 3600, 0.0241579],
  [108, 1800, 72, 1800, 0.5, 3600, 0.0220271],
  [216, 3600, 144, 3600, 0.5, 3600, 0.0157103],
  [540, 9000, 40, 1000, 0.9, 10_000, 0.0202853],
])('%i/%i against %i/%i', (did, people, otherDid, otherPeople, weight, plan, half) => {
  const interval = alwaysValidInterval(rate(did, people), rate(otherDid, otherPeople), { weight, plan }) // prettier-ignore
  expect(interval?.low).toBeCloseTo(0.02 - half, 6)
  expect(interval?.high).toBeCloseTo(0.02 + half, 6)
})

test('swapping the arms turns the sign and leaves the width (property)', () => {
  const arm = fc
    .integer({ min: 1, max: 5000 })
    .chain((people) => fc.integer({ min: 0, max: people }).map((did) => rate(did, people)))
  fc.assert(
    fc.property(arm, arm, fc.double({ min: 0.05, max: 0.95, noNaN: true }), (a, b, weight) => {
      const one = alwaysValidInterval(a, b, { weight, plan: 3000 })
      const other = alwaysValidInterval(b, a, { weight: 1 - weight, plan: 3000 })
      expect(one?.low).toBeCloseTo(-(other?.high ?? NaN), 9)
      expect(one?.high).toBeCloseTo(-(other?.low ?? NaN), 9)
    }),
  )
})

interface Seen {
  people: number
  did: number
}

describe('looked at every day, where there is no difference', () => {
  const RUNS = 1500
  const DAYS = 120
  const A_DAY = 60
  const PLAN = 3600

  /** The share of tests that were ever called, of those where both arms buy alike. */
  function falseCalls(
    weight: number,
    chance: number,
    leastEvents: number,
    isCalled: (a: Arm, b: Arm) => boolean,
  ): number {
    const random = seededRandom(20260414)
    let called = 0
    for (let run = 0; run < RUNS; run += 1) {
      const counts: [Seen, Seen] = [
        { people: 0, did: 0 },
        { people: 0, did: 0 },
      ]
      for (let day = 0; day < DAYS; day += 1) {
        for (let one = 0; one < A_DAY; one += 1) {
          const count = counts[random.chance(weight) ? 0 : 1]
          count.people += 1
          if (random.chance(chance)) count.did += 1
        }
        const [a, b] = counts
        if (a.did < leastEvents || b.did < leastEvents) continue
        if (isCalled(rate(a.did, a.people), rate(b.did, b.people))) {
          called += 1
          break
        }
      }
    }
    return called / RUNS
  }
  const bySequence = (weight: number) => (a: Arm, b: Arm) => {
    const interval = alwaysValidInterval(a, b, { weight, plan: PLAN })
    return interval !== null && (interval.low > 0 || interval.high < 0)
  }

  test('it calls at most one in twenty, with equal arms and with a small holdout', () => {
    expect(falseCalls(0.5, 0.04, 10, bySequence(0.5))).toBeLessThanOrEqual(0.05)
    expect(falseCalls(0.9, 0.04, 10, bySequence(0.9))).toBeLessThanOrEqual(0.05)
  })
  test('the interval for one look, looked at daily, calls far more', () => {
    const fixed = (a: Arm, b: Arm) => {
      const count = ({ people, mean }: Arm) => ({ of: people, did: Math.round(mean * people) })
      const interval = differenceInterval(count(a), count(b))
      return interval !== null && (interval.low > 0 || interval.high < 0)
    }
    expect(falseCalls(0.5, 0.04, 10, fixed)).toBeGreaterThan(0.2)
  })
  test('before ten events in each arm a small holdout would be called too often: so it waits', () => {
    expect(falseCalls(0.9, 0.04, 0, bySequence(0.9))).toBeGreaterThan(0.1)
  })
})
