import { expect, test } from 'vitest'
import { trackingOf, withParameters } from './tracking.ts'

test.each([
  ['https://x.example', 'a=1', 'https://x.example?a=1'],
  ['https://x.example/p?b=2', 'a=1&b=3', 'https://x.example/p?b=2&a=1'],
  ['https://x.example/p#part', '?a=1', 'https://x.example/p?a=1#part'],
  ['https://x.example/p?a=2#part', 'a=1', 'https://x.example/p?a=2#part'],
  ['mailto:care@x.example', 'a=1', 'mailto:care@x.example'],
  ['https://x.example', ' ', 'https://x.example'],
])('%s with %s', (url, parameters, result) => {
  expect(withParameters(url, parameters)).toBe(result)
})

test('mails written as by a person are not followed unless they say so', () => {
  expect(trackingOf({ format: 'plain' })).toMatchObject({ links: false, opens: false })
  expect(trackingOf({ format: 'designed' })).toMatchObject({ links: true, opens: true })
  const own = { links: true, opens: false, parameters: 'a=1' }
  expect(trackingOf({ format: 'plain', tracking: own })).toEqual(own)
})
