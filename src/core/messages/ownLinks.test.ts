import { expect, test } from 'vitest'
import { withoutOwn } from './ownLinks.ts'

test('links that are another one for everybody become one; the others stay', () => {
  expect(
    withoutOwn([
      { url: 'https://parcels.example/1', people: 1 },
      { url: 'https://parcels.example/2', people: 2 },
      { url: 'https://parcels.example/3', people: 1 },
      { url: 'https://shop.example/guide', people: 40 },
      { url: 'https://shop.example/gloves', people: 1 },
    ]),
  ).toEqual([
    { url: 'https://shop.example/guide', people: 40 },
    { url: 'https://parcels.example/…', people: 4 },
    { url: 'https://shop.example/gloves', people: 1 },
  ])
})

test('a link that many followed is none of one’s own, also beside such', () => {
  const own = [1, 2, 3].map((one) => ({ url: `https://shop.example/${one}`, people: 1 }))
  expect(withoutOwn([...own, { url: 'https://shop.example/all', people: 9 }])).toEqual([
    { url: 'https://shop.example/all', people: 9 },
    { url: 'https://shop.example/…', people: 3 },
  ])
  expect(withoutOwn([])).toEqual([])
})
