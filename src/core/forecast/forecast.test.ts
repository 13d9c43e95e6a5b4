import fc from 'fast-check'
import { expect, test } from 'vitest'
import { seededRandom } from '../shared/seededRandom.ts'
import { forecast, spreadOf, type EntryCount, type Past, type SendCount } from './forecast.ts'

/** Ten enter on each day; each gets something at once and, seven in ten, again after three days; then they are gone. */
function steady(days: number, perDay = (_day: number) => 10): Past {
  const entries: EntryCount[] = []
  const sends: SendCount[] = []
  for (let day = 0; day < days; day += 1) {
    const count = perDay(day)
    if (count === 0) continue
    sends.push({ workflowId: 'w', entered: day, sent: day, count })
    const [again, gone] = [count * 0.7, count * 0.3]
    sends.push({ workflowId: 'w', entered: day, sent: day + 3, count: again })
    entries.push({ workflowId: 'w', entered: day, ended: day + 1, count: gone })
    entries.push({ workflowId: 'w', entered: day, ended: day + 3, count: again })
  }
  return { entries, sends }
}

test('what goes on evenly is forecast as it goes on', () => {
  const days = forecast(steady(100), 90, 14)
  expect(days).toHaveLength(14)
  expect(days[0]?.day).toBe(91)
  for (const { expected } of days) expect(expected).toBeCloseTo(17, 0)
})

test('weekdays are told apart', () => {
  // Nobody on two days of seven.
  const days = forecast(
    steady(120, (day) => (day % 7 < 5 ? 10 : 0)),
    104,
    14,
  )
  const on = (day: number) => days.find((one) => one.day === day)?.expected ?? 0
  // Day 105 is the first of a week: who comes at once; the others came three days before, on day 102.
  expect(on(105)).toBeCloseTo(10 + 7, 0)
  // Days 110 and 111 have nobody new; only those of 107 and 108.
  expect(on(110)).toBeCloseTo(7, 0)
  expect(on(111)).toBeCloseTo(7, 0)
})

test('once nobody comes any more, those who are on their way are still forecast', () => {
  const past = steady(91)
  const stopped = { ...past, entries: past.entries, sends: past.sends }
  const [first] = forecast({ entries: stopped.entries.filter(({ entered }) => entered <= 88), sends: stopped.sends.filter(({ entered }) => entered <= 88) }, 90, 3) // prettier-ignore
  // Seven of those who entered on day 88 get theirs on day 91, beside those who are expected to come.
  expect(first?.expected).toBeGreaterThan(6)
})

test('nothing has happened, and nothing is forecast', () => {
  expect(forecast({ entries: [], sends: [] }, 90, 3).map(({ expected }) => expected)).toEqual([0, 0, 0]) // prettier-ignore
})

test('only what was known on its day is used: what comes after changes nothing', () => {
  const past = steady(140)
  const until = (day: number): Past => ({
    entries: past.entries
      .filter(({ entered }) => entered <= day)
      .map((one) => ({ ...one, ended: one.ended !== null && one.ended <= day ? one.ended : null })),
    sends: past.sends.filter(({ sent }) => sent <= day),
  })
  expect(forecast(past, 100, 14)).toEqual(forecast(until(100), 100, 14))
})

test('of days that scatter by chance alone nine in ten lie within (simulated, 200 shops)', () => {
  const random = seededRandom(7)
  let [within, all] = [0, 0]
  for (let shop = 0; shop < 200; shop += 1) {
    const entries: EntryCount[] = []
    const sends: SendCount[] = []
    for (let day = 0; day < 110; day += 1) {
      // About Poisson with mean 30: a hundred who come with three chances in ten each.
      let count = 0
      for (let person = 0; person < 300; person += 1) if (random.chance(0.1)) count += 1
      entries.push({ workflowId: 'w', entered: day, ended: day, count })
      sends.push({ workflowId: 'w', entered: day, sent: day, count })
    }
    for (const { day, low, high } of forecast({ entries, sends }, 95, 14)) {
      const came = sends.find(({ sent }) => sent === day)?.count ?? 0
      all += 1
      if (came >= low && came <= high) within += 1
    }
  }
  expect(within / all).toBeGreaterThan(0.86)
  expect(within / all).toBeLessThan(0.95)
})

test('bounds hold what is expected, and widen with the spread', () => {
  fc.assert(
    fc.property(fc.double({ min: 1.1, max: 20, noNaN: true }), (spread) => {
      const [plain] = forecast(steady(100), 90, 1)
      const [wide] = forecast(steady(100), 90, 1, spread)
      expect(wide?.high).toBeGreaterThan(plain?.high ?? Infinity)
      expect(wide?.low).toBeLessThanOrEqual(wide?.expected ?? -1)
    }),
  )
})

test('how much wider days scatter than by chance', () => {
  expect(spreadOf([])).toBe(1)
  expect(spreadOf([{ expected: 100, came: 100 }])).toBe(1)
  expect(spreadOf([{ expected: 100, came: 130 }, { expected: 100, came: 70 }])).toBe(9) // prettier-ignore
})
