import { association } from './measures.ts'

/** How often products, and pairs of them, were in baskets. */
export interface BasketCounts {
  n: number
  /** How many baskets had a product. */
  alone: ReadonlyMap<string, number>
  /** How many had a pair, by the first and then the second; each pair both ways. */
  pairs: ReadonlyMap<string, ReadonlyMap<string, number>>
}

/** Counts baskets. What is in one twice counts once. */
export function countBaskets(baskets: readonly (readonly string[])[]): BasketCounts {
  const alone = new Map<string, number>()
  const pairs = new Map<string, Map<string, number>>()
  let n = 0
  for (const basket of baskets) {
    n += 1
    const items = [...new Set(basket)]
    for (const item of items) {
      alone.set(item, (alone.get(item) ?? 0) + 1)
      const own = pairs.get(item) ?? new Map<string, number>()
      pairs.set(item, own)
      for (const other of items) if (other !== item) own.set(other, (own.get(other) ?? 0) + 1)
    }
  }
  return { n, alone, pairs }
}

/** Less often together than this may be chance. */
const LEAST_TOGETHER = 3

/**
 * What is bought together with some items more often than by chance (lift over 1, at least three
 * times), the closest first: by the cosine with that item of them it goes with best. Popular things
 * that are in every basket anyway are not among them.
 */
export function boughtTogether(counts: BasketCounts, items: readonly string[]): string[] {
  const best = new Map<string, number>()
  const own = new Set(items)
  for (const item of own) {
    for (const [other, both] of counts.pairs.get(item) ?? []) {
      if (own.has(other) || both < LEAST_TOGETHER) continue
      const a = counts.alone.get(item) ?? 0
      const b = counts.alone.get(other) ?? 0
      const measured = association({ n: counts.n, a, b, both })
      if (!measured || measured.lift <= 1) continue
      best.set(other, Math.max(best.get(other) ?? 0, measured.cosine))
    }
  }
  return [...best]
    .toSorted(([one, x], [other, y]) => y - x || (one < other ? -1 : 1))
    .map(([id]) => id)
}
