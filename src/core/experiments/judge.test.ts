import { describe, expect, test } from 'vitest'
import { DAY_MS } from '../shared/duration.ts'
import { seededRandom, type Random } from '../shared/seededRandom.ts'
import { USUAL_PLAN, type TestPlan } from '../workflow/testPlan.ts'
import { judge, type ArmCount, type Verdict } from './judge.ts'

const NOW = Date.UTC(2026, 3, 14)
const plan = (over: Partial<TestPlan> = {}): TestPlan => ({ ...USUAL_PLAN, ...over })

const arm = (key: string, did: number, people: number, over: Partial<ArmCount> = {}): ArmCount => ({
  key,
  weight: 50,
  holdout: false,
  drawn: people,
  people,
  did,
  sum: did,
  squares: did,
  ...over,
})

const verdict = (arms: ArmCount[], over: Partial<TestPlan> = {}): Verdict =>
  judge({ plan: plan(over), arms, now: NOW, perDay: 20 }).verdict

test('nobody, too few, open, decided, none', () => {
  expect(verdict([arm('a', 0, 0), arm('b', 0, 0)])).toEqual({ kind: 'nobody' })
  expect(verdict([arm('a', 9, 500), arm('b', 60, 500)])).toEqual({ kind: 'tooFew', arm: 'a', have: 9, need: 10 }) // prettier-ignore
  expect(verdict([arm('a', 40, 500), arm('b', 45, 500)])).toMatchObject({ kind: 'open' })
  expect(verdict([arm('a', 144, 3600), arm('b', 216, 3600)])).toMatchObject({
    kind: 'decided',
    arm: 'b',
    isBetter: true,
  })
  expect(verdict([arm('a', 2000, 50_000), arm('b', 2005, 50_000)])).toMatchObject({
    kind: 'noDifference',
  })
})

test('“61 people 3.3 %, 63 people 6.3 %” has no winner (common practice of calling one)', () => {
  expect(verdict([arm('a', 2, 61), arm('b', 4, 63)])).toEqual({ kind: 'tooFew', arm: 'a', have: 2, need: 10 }) // prettier-ignore
})

test('with the people of the plan, the one planned look is told apart from looking on', () => {
  // By one look z = 2.19, p = 0.028 (pooled z, NIST/SEMATECH e-Handbook 7.3.3).
  const { verdict: said, comparisons } = judge({
    plan: plan({ least: 0.02 }),
    arms: [arm('a', 430, 4300), arm('b', 493, 4300)],
    now: NOW,
    perDay: 20,
  })
  expect(said).toMatchObject({ kind: 'planned', isTold: true })
  expect(comparisons[0]?.always?.low).toBeLessThan(0)
  expect(comparisons[0]?.fixed?.low).toBeGreaterThan(0)
})

test('where fewer are better, the arm with fewer is', () => {
  const arms = [arm('a', 400, 4000), arm('b', 100, 4000)]
  expect(verdict(arms)).toMatchObject({ arm: 'a', isBetter: false })
  expect(verdict(arms, { measure: 'unsubscribed' })).toMatchObject({ arm: 'b', isBetter: true })
})

test('who gets nothing is what the others are compared with, wherever it stands', () => {
  const { comparisons } = judge({
    plan: plan(),
    arms: [arm('letter', 400, 4000), arm('none', 100, 4000, { holdout: true })],
    now: NOW,
    perDay: 20,
  })
  expect(comparisons).toMatchObject([{ arm: 'letter', against: 'none', call: 'more' }])
})

test('a ratio that chance does not make is said before anything else', () => {
  // Kohavi, Tang, Xu, Trustworthy Online Controlled Experiments: 821,588 against 815,482 at 50 : 50.
  const arms = [arm('a', 100_000, 821_588), arm('b', 50_000, 815_482)]
  expect(verdict(arms)).toMatchObject({ kind: 'skewed' })
  expect(verdict(arms)).toHaveProperty('p', expect.closeTo(1.82e-6, 8))
})

describe('when it can be decided', () => {
  const arms = [arm('a', 40, 500), arm('b', 45, 500)]
  test('once the people it takes have been drawn, and their window is over', () => {
    const { needed, plannedAt } = judge({ plan: plan(), arms, now: NOW, perDay: 20 })
    expect(needed).toBeGreaterThan(1000)
    expect(plannedAt).toBe(NOW + (30 + Math.ceil(((needed ?? 0) - 1000) / 20)) * DAY_MS)
  })
  test('never, where nobody comes any more', () => {
    expect(judge({ plan: plan(), arms, now: NOW, perDay: 0 }).verdict).toEqual({ kind: 'open', at: null }) // prettier-ignore
  })
})

/** How often a test without any difference is called within so many days when it is looked at every day. */
function falseCalls(
  random: Random,
  {
    tests,
    days,
    perDay,
    spends,
    weight,
    over,
  }: {
    tests: number
    days: number
    perDay: number
    spends: (random: Random) => number
    weight: number
    over?: Partial<TestPlan>
  },
): number {
  let called = 0
  for (let one = 0; one < tests; one += 1) {
    const arms = [arm('a', 0, 0, { weight: 100 * weight }), arm('b', 0, 0, { weight: 100 * (1 - weight), holdout: true })] // prettier-ignore
    for (let day = 0; day < days; day += 1) {
      for (let person = 0; person < perDay; person += 1) {
        const own = arms[random.chance(weight) ? 0 : 1] as ArmCount
        const value = spends(random)
        own.drawn += 1
        own.people += 1
        own.did += value > 0 ? 1 : 0
        own.sum += value
        own.squares += value ** 2
      }
      if (verdict(arms, over).kind === 'decided') {
        called += 1
        break
      }
    }
  }
  return called / tests
}

describe('looked at every day, tests without a difference are called in at most five of a hundred', () => {
  // The shares that simulation with NumPy found: 0.019; 0.020 for a holdout of a tenth.
  test.each([
    ['half and half', 0.5],
    ['a holdout of a tenth', 0.9],
  ])('%s', (_name, weight) => {
    const spends = (random: Random) => (random.chance(0.04) ? 1 : 0)
    const share = falseCalls(seededRandom(20_260_414), { tests: 600, days: 80, perDay: 60, spends, weight }) // prettier-ignore
    expect(share).toBeLessThanOrEqual(0.05)
  })

  test('revenue, with the spread of the demo shop’s orders', () => {
    // Log-normal amounts, σ 0.8, cut at their 99th percentile: about what the demo shop's orders do.
    const spends = (random: Random) => {
      if (!random.chance(0.08)) return 0
      const z = Math.sqrt(-2 * Math.log(1 - random.next())) * Math.cos(2 * Math.PI * random.next())
      return Math.min(6000 * Math.exp(0.8 * z), 6000 * Math.exp(0.8 * 2.326))
    }
    const share = falseCalls(seededRandom(11), { tests: 300, days: 60, perDay: 60, spends, weight: 0.8, over: { measure: 'revenue', least: 100 } }) // prettier-ignore
    expect(share).toBeLessThanOrEqual(0.05)
  })
})

test('with several arms each comparison has its part of the level', () => {
  const two = judge({ plan: plan(), arms: [arm('a', 100, 1000), arm('b', 100, 1000)], now: NOW, perDay: 1 }) // prettier-ignore
  const three = judge({ plan: plan(), arms: ['a', 'b', 'c'].map((key) => arm(key, 100, 1000)), now: NOW, perDay: 1 }) // prettier-ignore
  const width = (of: typeof two) => {
    const interval = of.comparisons[0]?.always
    return interval ? interval.high - interval.low : 0
  }
  expect(three.comparisons).toHaveLength(2)
  expect(width(three)).toBeGreaterThan(width(two))
})
