/** Numbers that look random and are the same on every machine. */
export interface Random {
  /** From 0 up to 1. */
  next: () => number
  /** A whole number from `from` to `to`, both included. */
  between: (from: number, to: number) => number
  /** True with this probability. */
  chance: (probability: number) => boolean
  pick: <Item>(items: readonly Item[]) => Item
  /** One of the items, each with the weight its function gives. */
  weighted: <Item>(items: readonly Item[], weightOf: (item: Item) => number) => Item
}

/** Mulberry32, a well-known small generator in the public domain (Tommy Ettinger, 2017). */
export function seededRandom(seed: number): Random {
  let state = seed
  const next = (): number => {
    state = (state + 0x6d2b79f5) | 0
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state)
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32
  }
  const pick = <Item>(items: readonly Item[]): Item => {
    const item = items[Math.floor(next() * items.length)]
    if (item === undefined) throw new RangeError('Nothing to pick from')
    return item
  }
  return {
    next,
    between: (from, to) => from + Math.floor(next() * (to - from + 1)),
    chance: (probability) => next() < probability,
    pick,
    weighted: (items, weightOf) => {
      const total = items.reduce((sum, item) => sum + weightOf(item), 0)
      let left = next() * total
      return items.find((item) => (left -= weightOf(item)) < 0) ?? pick(items)
    },
  }
}
