/**
 * What several comparisons made at once leave of each p: Holm's step-down, in the order given. Whatever
 * stays under the level may be called, and none of them falsely with more than that probability.
 * Holm, Scandinavian Journal of Statistics 6 (1979) 65-70.
 */
export function holmAdjusted(values: readonly number[]): number[] {
  const ranked = values.map((p, index) => ({ p, index })).toSorted((a, b) => a.p - b.p)
  const adjusted = Array.from({ length: values.length }, () => 1)
  let most = 0
  for (const [rank, { p, index }] of ranked.entries()) {
    most = Math.max(most, Math.min(1, p * (values.length - rank)))
    adjusted[index] = most
  }
  return adjusted
}
