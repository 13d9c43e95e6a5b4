/** When each row of a kind was, and of which person it is: in that order. */
export interface RowTimes {
  at: Float64Array
  /** The person's place among all. */
  person: Int32Array
}

/**
 * Numbers the rows of several parts as if they were one: by time, and of one moment by person. The rows of
 * each part must be in that order themselves. Returns a number for each row of each part, from `first` on.
 */
export function numberRows(parts: readonly RowTimes[], first: number): Int32Array[] {
  const numbers = parts.map(({ at }) => new Int32Array(at.length))
  const next = parts.map(() => 0)
  const total = parts.reduce((sum, { at }) => sum + at.length, 0)
  for (let number = first; number < first + total; number += 1) {
    const part = earliest(parts, next)
    const place = next[part] ?? 0
    const own = numbers[part]
    if (own) own[place] = number
    next[part] = place + 1
  }
  return numbers
}

/** The part whose next row comes first. */
function earliest(parts: readonly RowTimes[], next: readonly number[]): number {
  let found = -1
  let best = { at: Infinity, person: Infinity }
  for (const [part, { at, person }] of parts.entries()) {
    const place = next[part] ?? 0
    const one = { at: at[place] ?? Infinity, person: person[place] ?? Infinity }
    if (one.at < best.at || (one.at === best.at && one.person < best.person)) {
      found = part
      best = one
    }
  }
  return found
}
