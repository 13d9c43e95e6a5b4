import fc from 'fast-check'
import { expect, test } from 'vitest'
import { murmur3, unitHash } from './hash.ts'
import { armFor, rollOf } from '../workflow/arms.ts'

// Published test values of MurmurHash3 x86 32; from memory.
test.each([
  ['', 0, 0],
  ['', 1, 0x514e28b7],
  ['', 0xffffffff, 0x81f16f39],
  ['test', 0, 0xba6bd213],
  ['test', 0x9747b28c, 0x704b81dc],
  ['Hello, world!', 0, 0xc0363e43],
  ['Hello, world!', 0x9747b28c, 0x24884cba],
  // Eight times U+03C0, as bytes of UTF-8.
  ['ππππππππ', 0x9747b28c, 0xd58063c1],
  ['The quick brown fox jumps over the lazy dog', 0, 0x2e4ff723],
  ['The quick brown fox jumps over the lazy dog', 0x9747b28c, 0x2fa826cd],
])('murmur3 of %j with seed %i', (text, seed, expected) => {
  expect(murmur3(text, seed)).toBe(expected)
})

test('a number from 0 up to 1, for any text', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), (text) => {
      expect(unitHash(text)).toBeGreaterThanOrEqual(0)
      expect(unitHash(text)).toBeLessThan(1)
    }),
  )
})

test('shares follow the weights over many people, and two lotteries have nothing to do with each other', () => {
  const arms = [
    { key: 'a', weight: 20 },
    { key: 'b', weight: 70 },
    { key: 'holdout', weight: 10 },
  ]
  const people = Array.from({ length: 20_000 }, (_, index) => `c-${index}`)
  const count = (key: string, lottery: string) =>
    people.filter((id) => armFor(arms, rollOf(lottery, id)).key === key).length
  // Five standard errors of a share of 0.7 are 0.016.
  expect(count('b', 'one') / people.length).toBeCloseTo(0.7, 1)
  expect(Math.abs(count('a', 'one') / people.length - 0.2)).toBeLessThan(0.015)
  expect(Math.abs(count('holdout', 'one') / people.length - 0.1)).toBeLessThan(0.011)
  const both = people.filter(
    (id) =>
      armFor(arms, rollOf('one', id)).key === 'a' && armFor(arms, rollOf('two', id)).key === 'a',
  )
  expect(Math.abs(both.length / people.length - 0.04)).toBeLessThan(0.007)
})
