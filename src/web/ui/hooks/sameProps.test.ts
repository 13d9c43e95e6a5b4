import { expect, test } from 'vitest'
import { sameProps } from './sameProps.ts'

interface Props {
  name: string
  place: { index: number }
  box?: { left: number }
}

const same = sameProps<Props>('place', 'box')

test.each<[string, Props, Props, boolean]>([
  ['the same', { name: 'a', place: { index: 1 } }, { name: 'a', place: { index: 1 } }, true],
  ['another name', { name: 'a', place: { index: 1 } }, { name: 'b', place: { index: 1 } }, false],
  ['another place', { name: 'a', place: { index: 1 } }, { name: 'a', place: { index: 2 } }, false],
  [
    'one that came',
    { name: 'a', place: { index: 1 }, box: undefined as never },
    { name: 'a', place: { index: 1 }, box: { left: 0 } },
    false,
  ],
])('props that are %s', (_what, before, after, expected) => {
  expect(same(before, after)).toBe(expected)
})

test('what must be the same object is not looked into', () => {
  const strict = sameProps<Props>('box')
  expect(strict({ name: 'a', place: { index: 1 } }, { name: 'a', place: { index: 1 } })).toBe(false)
})
