import type { Instant } from '../shared/time.ts'

/** What an expected reorder is reckoned from. */
export const REORDER_BASES = {
  person: 'their own orders of it',
  product: 'everybody’s orders of it',
  category: 'orders of its category',
} as const
export type ReorderBasis = keyof typeof REORDER_BASES

/** When somebody will most likely buy again what they have bought, and how sure that is. */
export interface ExpectedReorder {
  at: Instant
  by: ReorderBasis
  /** After so many days; four in five do so between `soon` and `late`. */
  days: number
  soon: number
  late: number
  /** Of a hundred purchases so many are followed by another within a year. */
  again: number
  /** How often they have bought it again so far, and after how many days as a rule; 0 and null where they have bought it once. */
  ownGaps: number
  ownDays: number | null
}
