import fc from 'fast-check'
import { expect, test } from 'vitest'
import { Shares } from './shares.ts'

const NOW = 1_000_000
const HOUR = 3_600_000

test('a shop that keeps to its share is served at once, whatever others bring', () => {
  const shares = new Shares()
  for (let job = 0; job < 500; job += 1) shares.dueAt('storm', 100, NOW)
  expect(shares.dueAt('quiet', 1, NOW)).toBe(NOW)
  expect(shares.dueAt('storm', 1, NOW)).toBe(NOW + HOUR)
})

test('one that brings more waits longer with each job, and not for ever', () => {
  const shares = new Shares()
  expect(shares.dueAt('a', 100, NOW)).toBe(NOW)
  expect(shares.dueAt('a', 100, NOW)).toBe(NOW + 10_000)
  expect(shares.dueAt('a', 100_000, NOW)).toBe(NOW + 20_000)
  expect(shares.dueAt('a', 1, NOW)).toBe(NOW + HOUR)
  // Once the time is over nothing is held against it.
  expect(shares.dueAt('a', 1, NOW + 2 * HOUR)).toBe(NOW + 2 * HOUR)
})

test('a shop’s own work keeps its order, and none is put off by more than an hour (property)', () => {
  const steps = fc.array(fc.record({ pause: fc.nat(60_000), amount: fc.integer({ min: 1, max: 1000 }) })) // prettier-ignore
  fc.assert(
    fc.property(steps, (given) => {
      const shares = new Shares()
      let [now, last] = [NOW, 0]
      for (const { pause, amount } of given) {
        now += pause
        const due = shares.dueAt('a', amount, now)
        expect(due).toBeGreaterThanOrEqual(Math.max(now, last))
        expect(due).toBeLessThanOrEqual(now + HOUR)
        last = due
      }
    }),
  )
})

test('shops without anything outstanding are not remembered for ever', () => {
  const shares = new Shares()
  for (let shop = 0; shop < 25_000; shop += 1) {
    // Each a minute after the one before: what it brought has long been its time.
    expect(shares.dueAt(`s${shop}`, 1, NOW + shop * 60_000)).toBe(NOW + shop * 60_000)
  }
  expect(shares.size).toBeLessThanOrEqual(10_001)
})
