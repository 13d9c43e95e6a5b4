import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { boughtTogether, countBaskets } from './baskets.ts'
import { association } from './measures.ts'

const TAN = [
  ['Bread', 'Milk'],
  ['Bread', 'Diapers', 'Beer', 'Eggs'],
  ['Milk', 'Diapers', 'Beer', 'Cola'],
  ['Bread', 'Milk', 'Diapers', 'Beer'],
  ['Bread', 'Milk', 'Diapers', 'Cola'],
]
/** A rule over sets, counted in the baskets. */
function rule(baskets: string[][], a: string[], b: string[]) {
  const having = (all: string[]) => baskets.filter((one) => all.every((item) => one.includes(item))).length // prettier-ignore
  return association({ n: baskets.length, a: having(a), b: having(b), both: having([...a, ...b]) })
}

describe('Tan, Steinbach and Kumar, Introduction to Data Mining, chapter 6: the market basket table', () => {
  test.each<[string[], string[], number[]]>([
    [['Milk', 'Diapers'], ['Beer'], [2 / 5, 2 / 3, 10 / 9, 0.04, 0.6667, 1 / 2]],
    [['Milk', 'Beer'], ['Diapers'], [2 / 5, 1, 5 / 4, 0.08, 0.7071, 1 / 2]],
    [['Diapers', 'Beer'], ['Milk'], [2 / 5, 2 / 3, 5 / 6, -0.08, 0.5774, 2 / 5]],
    [['Beer'], ['Milk', 'Diapers'], [2 / 5, 2 / 3, 10 / 9, 0.04, 0.6667, 1 / 2]],
    [['Diapers'], ['Milk', 'Beer'], [2 / 5, 1 / 2, 5 / 4, 0.08, 0.7071, 1 / 2]],
    [['Milk'], ['Diapers', 'Beer'], [2 / 5, 1 / 2, 5 / 6, -0.08, 0.5774, 2 / 5]],
    [['Diapers'], ['Beer'], [3 / 5, 3 / 4, 5 / 4, 0.12, 0.866, 3 / 4]],
    [['Bread'], ['Milk'], [3 / 5, 3 / 4, 15 / 16, -0.04, 0.75, 3 / 5]],
    [['Bread'], ['Cola'], [1 / 5, 1 / 4, 5 / 8, -0.12, 0.3536, 1 / 5]],
  ])('%j, so %j', (a, b, expected) => {
    const found = Object.values(rule(TAN, a, b) ?? {}) as number[]
    found.forEach((value, index) => expect(value).toBeCloseTo(expected[index] ?? NaN, 4))
  })
  test('the pairs that are in three baskets or more', () => {
    const { pairs, alone } = countBaskets(TAN)
    expect(Object.fromEntries(alone)).toEqual({ Bread: 4, Milk: 4, Diapers: 4, Beer: 3, Eggs: 1, Cola: 2 }) // prettier-ignore
    const frequent = [...pairs].flatMap(([one, own]) =>
      [...own].flatMap(([other, count]) => (count >= 3 && one < other ? [`${one} ${other}`] : [])),
    )
    expect(frequent.toSorted()).toEqual(['Beer Diapers', 'Bread Diapers', 'Bread Milk', 'Diapers Milk']) // prettier-ignore
  })
})

test('tea and coffee (the same, chapter 6): sure, and yet no recommendation', () => {
  const found = association({ n: 1000, a: 200, b: 800, both: 150 })
  expect(found?.confidence).toBe(0.75)
  expect(found?.lift).toBe(0.9375)
  expect(found?.cosine).toBeCloseTo(0.375, 10)
  expect(found?.jaccard).toBeCloseTo(3 / 17, 10)
})

test('games and videos (Han and Kamber, Data Mining, on correlation)', () => {
  const found = association({ n: 10_000, a: 6000, b: 7500, both: 4000 })
  expect(found?.confidence).toBeCloseTo(2 / 3, 10)
  expect(found?.lift).toBeCloseTo(8 / 9, 10)
})

test('Han and Kamber’s nine transactions: singles and pairs', () => {
  const all = ['1 2 5', '2 4', '2 3', '1 2 4', '1 3', '2 3', '1 3', '1 2 3 5', '1 2 3'].map((one) => one.split(' ')) // prettier-ignore
  const { alone, pairs } = countBaskets(all)
  expect(['1', '2', '3', '4', '5'].map((item) => alone.get(item))).toEqual([6, 7, 6, 2, 2])
  const count = (a: string, b: string) => pairs.get(a)?.get(b) ?? 0
  expect([count('1', '2'), count('1', '3'), count('1', '5'), count('2', '3'), count('2', '4'), count('2', '5')]).toEqual([4, 4, 2, 4, 2, 2]) // prettier-ignore
})

const baskets = fc.array(
  fc.array(fc.constantFrom('a', 'b', 'c', 'd', 'e'), { minLength: 1, maxLength: 5 }),
  { maxLength: 40 },
)
test('lift, cosine and Jaccard are the same both ways; twice in a basket counts once', () => {
  fc.assert(
    fc.property(baskets, (all) => {
      const { n, alone, pairs } = countBaskets(all)
      const both = pairs.get('a')?.get('b') ?? 0
      const counts = { n, a: alone.get('a') ?? 0, b: alone.get('b') ?? 0, both }
      const one = association(counts)
      const other = association({ ...counts, a: counts.b, b: counts.a })
      expect([one?.lift, one?.cosine, one?.jaccard]).toEqual([other?.lift, other?.cosine, other?.jaccard]) // prettier-ignore
      expect(countBaskets(all.map((basket) => [...basket, ...basket]))).toEqual(countBaskets(all))
    }),
  )
})

test('what is recommended is never among the items, and goes with one of them beyond chance', () => {
  fc.assert(
    fc.property(baskets, fc.subarray(['a', 'b', 'c', 'x']), (all, items) => {
      const counts = countBaskets(all)
      for (const found of boughtTogether(counts, items)) {
        expect(items).not.toContain(found)
        const lifts = items.map((item) => association({ n: counts.n, a: counts.alone.get(item) ?? 0, b: counts.alone.get(found) ?? 0, both: counts.pairs.get(item)?.get(found) ?? 0 })?.lift ?? 0) // prettier-ignore
        expect(Math.max(...lifts)).toBeGreaterThan(1)
      }
    }),
  )
})

test('the closest comes first; unknown items recommend nothing', () => {
  const all = [
    ...Array.from({ length: 6 }, () => ['hive', 'frames']),
    ...Array.from({ length: 3 }, () => ['hive', 'floor']),
    ...Array.from({ length: 9 }, () => ['jar']),
    ...Array.from({ length: 5 }, () => ['frames']),
  ]
  expect(boughtTogether(countBaskets(all), ['hive'])).toEqual(['frames', 'floor'])
  expect(boughtTogether(countBaskets(all), ['nothing'])).toEqual([])
})
