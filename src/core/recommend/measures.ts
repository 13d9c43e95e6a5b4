/** How often two things, or two sets of things, were in the same baskets. */
export interface Together {
  /** All baskets. */
  n: number
  /** Those with the first, with the second, and with both. */
  a: number
  b: number
  both: number
}

/**
 * Measures of association of a rule "a, so b" (Tan, Steinbach and Kumar, Introduction to Data Mining,
 * chapter 6). A high confidence alone recommends nothing: lift says whether it is more than chance.
 */
export interface Association {
  /** The share of all baskets that have both. */
  support: number
  /** The share of the baskets with a that have b. */
  confidence: number
  /** How many times as often as if they had nothing to do with each other. */
  lift: number
  /** How much larger the share of both is than it would be then. */
  leverage: number
  cosine: number
  jaccard: number
}

/** The measures of a rule; null where one of the two was never bought, of which nothing can be said. */
export function association({ n, a, b, both }: Together): Association | null {
  if (n === 0 || a === 0 || b === 0) return null
  return {
    support: both / n,
    confidence: both / a,
    lift: (both * n) / (a * b),
    leverage: both / n - (a / n) * (b / n),
    cosine: both / Math.sqrt(a * b),
    jaccard: both / (a + b - both),
  }
}
