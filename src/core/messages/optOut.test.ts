import { expect, test } from 'vitest'
import { readOptOut } from './optOut.ts'

test.each([
  ['STOP', 'stop'],
  [' stop. ', 'stop'],
  ['“Stop”', 'stop'],
  ['arre\u0302t', 'stop'],
  ['Unsubscribe!', 'stop'],
  ['start', 'start'],
  ['please stop by on Monday', null],
  ['Stop it', null],
  ['', null],
  ['thanks', null],
])('%j', (text, expected) => {
  expect(readOptOut(text)).toBe(expected)
})
