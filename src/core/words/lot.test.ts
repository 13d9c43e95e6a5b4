import { expect, test } from 'vitest'
import { seededRandom } from '../shared/seededRandom.ts'
import { lotWords } from './lot.ts'

test('where everybody was asked there is nothing to say', () => {
  expect(lotWords(1)).toBe('')
})

test('the bounds hold what comes of drawing, nineteen times in twenty', () => {
  const [low = 0, high = 0] = [...lotWords(25).matchAll(/between ([\d,]+) and ([\d,]+)/g)].flatMap(
    ([, a = '', b = '']) => [a, b].map((one) => Number(one.replaceAll(',', ''))),
  )
  const random = seededRandom(3)
  const drawn = Array.from({ length: 400 }, () => {
    let count = 0
    for (let one = 0; one < 1000; one += 1) if (random.chance(1 / 25)) count += 25
    return count
  })
  const within = drawn.filter((one) => one >= low && one <= high).length / drawn.length
  expect(within).toBeGreaterThan(0.93)
  expect(within).toBeLessThan(0.98)
})
