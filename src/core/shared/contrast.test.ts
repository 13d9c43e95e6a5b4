import { expect, test } from 'vitest'
import { contrast } from './contrast.ts'

test.each([
  ['#767676', 4.54],
  ['#777777', 4.48],
  ['#949494', 3.03],
  ['#000000', 21],
  ['#ffffff', 1],
])('%s on white (WCAG 2, 1.4.3)', (colour, ratio) => {
  expect(contrast(colour, '#ffffff')).toBeCloseTo(ratio, 2)
  expect(contrast('#ffffff', colour)).toBeCloseTo(ratio, 2)
})
