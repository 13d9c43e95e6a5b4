import { expect, test } from 'vitest'
import { expectedDays, ownGaps } from '../../core/reorder/expect.ts'
import { ownerOf } from '../../core/life/oneLife.ts'
import { grouped } from '../../core/shared/grouped.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { makeHistory } from '../history.ts'
import { RHYTHM, rhythmicLines } from '../rhythms.ts'
import { LIVED } from '../seed.ts'
import { reordersBefore } from './livePast.ts'

/*
 * Some people of the demo buy the same thing at rhythms of their own (`rhythms.ts`). What the shop reckons
 * of it half a year before the end is held against what they did afterwards.
 */

const history = makeHistory()
const intervals = reordersBefore(history, LIVED.from)
const [line] = rhythmicLines().lines
const product = { productId: line?.productId ?? '', category: line?.category ?? null }
const bought = history.filter(
  ({ event }) =>
    event.type === 'order.placed' &&
    'order' in event.data &&
    event.data.order.lines.some(({ productId }) => productId === product.productId),
)

/** Each person's purchases before, and the gap from the last of them to the next. */
const seen = [...grouped(bought, ownerOf).values()].flatMap((own) => {
  const times = own.map(({ at }) => at)
  const before = times.filter((at) => at <= LIVED.from)
  const last = before.at(-1)
  const next = times.find((at) => at > LIVED.from)
  return last === undefined || next === undefined ? [] : [{ before, came: daysBetween(last, next) }]
})

function daysBetween(from: Instant, to: Instant): number {
  return Math.max(1, Math.floor((to - from) / DAY_MS))
}

test('who buys at a rhythm is expected at it, better than everybody together, and as surely as is said', () => {
  const rhythmic = seen.filter(({ before }) => ownGaps(before).length >= 3)
  expect(rhythmic.length).toBeGreaterThan(RHYTHM.people * 0.5)
  const half = intervals.products.get(product.productId)?.days ?? 0
  let [own, everybody, inside] = [0, 0, 0]
  for (const { before, came } of rhythmic) {
    const expected = expectedDays(intervals, product, ownGaps(before))
    expect(expected?.by).toBe('person')
    own += Math.abs(Math.log(came / (expected?.days ?? 0)))
    everybody += Math.abs(Math.log(came / half))
    if (expected && came >= expected.soon && came <= expected.late) inside += 1
  }
  // Odd orders in between, as everybody makes them, halve some of their gaps; without those it would be about half.
  expect(own / everybody).toBeLessThan(0.85)
  // Four in five, or more: what others buy now and then makes the shop less sure than these people are.
  expect(inside / rhythmic.length).toBeGreaterThan(0.78)
})

test('what nobody buys at a rhythm is expected of nobody by their own orders', () => {
  const others = [...intervals.products].filter(([id]) => id !== product.productId)
  expect(others.length).toBeGreaterThan(0)
  for (const [productId, { low, high }] of others) {
    const expected = expectedDays(intervals, { productId, category: null }, [30])
    // As unsure as they are: an interval of months.
    expect(high - low).toBeGreaterThan(30)
    expect((expected?.late ?? 0) - (expected?.soon ?? 0)).toBeGreaterThan(60)
  }
})
