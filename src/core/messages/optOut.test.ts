import { expect, test } from 'vitest'
import { readOptOut, saysHowToStop } from './optOut.ts'

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

test.each([
  ['New combs are in. STOP to end texts', true],
  ['Reply stop to end', true],
  ['Responda PARAR para terminar.', true],
  ['Kept until the end of the week', false],
  ['Your parcel is here', false],
])('a text that says how to end such texts: %j', (text, expected) => {
  expect(saysHowToStop(text)).toBe(expected)
})
