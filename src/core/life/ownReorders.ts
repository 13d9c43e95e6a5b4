import type { OrderFacts } from '../events/facts.ts'
import type { ExpectedReorder } from '../events/reorder.ts'
import { expectReorder, ownGaps } from '../reorder/expect.ts'
import type { ReorderIntervals } from '../reorder/interval.ts'
import type { Instant } from '../shared/time.ts'

interface Bought {
  orderId: string
  line: number
  at: Instant
  expected: ExpectedReorder | null
}

/** Orders that do not stand are no purchases. */
export const NOT_BOUGHT: readonly string[] = ['cancelled', 'refunded']

/**
 * What one customer is expected to buy again: of each product the last purchase has a day, reckoned when it was made. Kept as
 * `backend/shop/reorder/expected.ts` keeps it for the shop.
 */
export class OwnReorders {
  readonly #bought = new Map<string, Bought[]>()
  readonly #intervals: ReorderIntervals

  constructor(intervals: ReorderIntervals) {
    this.#intervals = intervals
  }

  /** Takes note of an order as it is now. */
  take(order: OrderFacts, zone: string): void {
    if (this.#intervals.products.size === 0 && this.#intervals.categories.size === 0) return
    const at = order.placedAt
    if (at === null) return
    const stands = !NOT_BOUGHT.includes(order.status)
    order.lines.forEach(({ productId, category }, line) => {
      const own = this.#bought.get(productId) ?? []
      const known = own.find(({ orderId }) => orderId === order.id)
      if (known && stands) return
      const others = own.filter((one) => one !== known)
      if (stands) {
        const gapsBefore = ownGaps([...others.map((one) => one.at), at])
        const expected = expectReorder(
          this.#intervals,
          { productId, category },
          { at, gapsBefore, zone },
        )
        others.push({ orderId: order.id, line, at, expected })
      }
      this.#bought.set(productId, others)
    })
  }

  /** The order with the days on which its lines are expected to be bought again. */
  known(order: OrderFacts): OrderFacts {
    if (this.#bought.size === 0) return order
    const lines = order.lines.map((one, line) => {
      const last = this.#bought.get(one.productId)?.at(-1)
      return last?.orderId === order.id && last.line === line
        ? { ...one, reorder: last.expected }
        : one
    })
    return { ...order, lines }
  }
}
