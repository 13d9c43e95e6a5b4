import fc from 'fast-check'
import { expect, test } from 'vitest'
import { numberRows, type RowTimes } from './numbers.ts'

const rows = fc.array(fc.record({ at: fc.integer({ min: 0, max: 20 }), person: fc.integer({ min: 0, max: 9 }) }), { maxLength: 40 }) // prettier-ignore
type Row = { at: number; person: number }

const inOrder = (all: readonly Row[]): Row[] =>
  all.toSorted((a, b) => a.at - b.at || a.person - b.person)
const timesOf = (all: readonly Row[]): RowTimes => ({
  at: Float64Array.from(all, ({ at }) => at),
  person: Int32Array.from(all, ({ person }) => person),
})

test('however people are parted, their rows are numbered as if they were together', () => {
  fc.assert(
    fc.property(rows, fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 900 }), (all, count, first) => {
      const parts = Array.from({ length: count }, (_, part) => inOrder(all.filter(({ person }) => person % count === part)))
      const numbers = numberRows(parts.map(timesOf), first)
      const together: Row[] = []
      parts.forEach((part, index) => part.forEach((row, place) => (together[(numbers[index]?.[place] ?? 0) - first] = row)))
      expect(together).toEqual(inOrder(all))
    }),
  )
}) // prettier-ignore
