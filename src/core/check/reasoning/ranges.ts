/** Whole numbers from `from` to `to`, both included; the ends may be infinite. */
export interface Range {
  from: number
  to: number
}

/** A set of whole numbers: ranges in order, none of which touch. */
export type Ranges = readonly Range[]

export const ALL: Ranges = [{ from: -Infinity, to: Infinity }]

/** The whole numbers from one to another; none when they are the wrong way round. */
export const between = (from: number, to: number): Ranges => (from <= to ? [{ from, to }] : [])

/** What is in both sets. */
export function intersect(a: Ranges, b: Ranges): Ranges {
  return a.flatMap((one) =>
    b.flatMap((other) => between(Math.max(one.from, other.from), Math.min(one.to, other.to))),
  )
}

/** What is not in the set. */
export function complement(set: Ranges): Ranges {
  const gaps: Range[] = []
  let from = -Infinity
  for (const range of set) {
    if (range.from > from) gaps.push({ from, to: range.from - 1 })
    from = range.to + 1
  }
  return from === Infinity ? gaps : [...gaps, { from, to: Infinity }]
}

/** The whole numbers that compare with `value` as an operator says. */
export function compared(op: string, value: number): Ranges {
  switch (op) {
    case 'gte':
      return between(Math.ceil(value), Infinity)
    case 'gt':
      return between(Math.floor(value) + 1, Infinity)
    case 'lte':
      return between(-Infinity, Math.floor(value))
    case 'lt':
      return between(-Infinity, Math.ceil(value) - 1)
    case 'eq':
      return Number.isInteger(value) ? between(value, value) : []
    case 'ne':
      return Number.isInteger(value) ? complement(between(value, value)) : ALL
    default:
      throw new RangeError(`"${op}" compares no numbers`)
  }
}
