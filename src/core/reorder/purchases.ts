import { DAY_MS } from '../shared/duration.ts'
import { grouped } from '../shared/grouped.ts'
import type { Instant } from '../shared/time.ts'

/** Somebody bought a product, in an order that stood. */
export interface Purchase {
  customerId: string
  productId: string
  category: string | null
  at: Instant
}

/**
 * How many purchases of a product were followed by the next one after so many whole days, or (`came` false)
 * had not been by the end of the time they could be watched.
 */
export interface Gaps {
  productId: string
  category: string | null
  days: number
  came: boolean
  count: number
}

/** How much the gaps of a product differ: sums over the logarithms of the gaps that came, by person. */
export interface GapSums {
  productId: string
  category: string | null
  /** Who has bought it again at least once. */
  people: number
  gaps: number
  /** The sum of the squares of the numbers of gaps each has. */
  squares: number
  sum: number
  /** Squared deviations of gaps from their person's mean. */
  within: number
  /** The sum over people of the number of their gaps times their mean squared. */
  between: number
}

/** Who has not bought it again by then is taken for somebody who does not. */
export const WATCHED_DAYS = 365

/** What was bought before that says little of how it is bought now. */
export const REMEMBERED_DAYS = 730

/**
 * The gaps between the purchases of each product by each person. Two within a day are one: something was forgotten.
 * The last one is watched until `now`. In SQL: `backend/shop/reorder/gaps.ts`, held to be the same by a test.
 */
export function gapsOf(
  purchases: readonly Purchase[],
  now: Instant,
): { gaps: Gaps[]; sums: GapSums[] } {
  const gaps = new Map<string, Gaps>()
  const sums = new Map<string, GapSums>()
  for (const own of byPersonAndProduct(purchases, now).values()) {
    const { productId, category } = own[0] as Purchase
    const came: number[] = []
    own.forEach(({ at }, index) => {
      const next = own[index + 1]?.at
      const days = Math.floor(((next ?? now) - at) / DAY_MS)
      if (next !== undefined && days < 1) return
      const hasCome = next !== undefined && days <= WATCHED_DAYS
      if (hasCome) came.push(Math.log(days))
      count(gaps, { productId, category, days: Math.min(days, WATCHED_DAYS), came: hasCome })
    })
    if (came.length > 0) addUp(sums, productId, category, came)
  }
  return { gaps: [...gaps.values()], sums: [...sums.values()] }
}

function byPersonAndProduct(purchases: readonly Purchase[], now: Instant): Map<string, Purchase[]> {
  const recent = purchases.filter(({ at }) => at <= now && at > now - REMEMBERED_DAYS * DAY_MS)
  const inOrder = recent.toSorted((a, b) => a.at - b.at)
  return grouped(inOrder, (one) => JSON.stringify([one.customerId, one.productId]))
}

function count(gaps: Map<string, Gaps>, gap: Omit<Gaps, 'count'>): void {
  const key = JSON.stringify([gap.productId, gap.days, gap.came])
  const known = gaps.get(key)
  if (known) known.count += 1
  else gaps.set(key, { ...gap, count: 1 })
}

function addUp(
  sums: Map<string, GapSums>,
  productId: string,
  category: string | null,
  logs: readonly number[],
): void {
  const known = sums.get(productId) ?? {
    productId,
    category,
    people: 0,
    gaps: 0,
    squares: 0,
    sum: 0,
    within: 0,
    between: 0,
  }
  const total = logs.reduce((sum, log) => sum + log, 0)
  const mean = total / logs.length
  sums.set(productId, {
    ...known,
    people: known.people + 1,
    gaps: known.gaps + logs.length,
    squares: known.squares + logs.length ** 2,
    sum: known.sum + total,
    within: known.within + logs.reduce((sum, log) => sum + (log - mean) ** 2, 0),
    between: known.between + logs.length * mean ** 2,
  })
}
