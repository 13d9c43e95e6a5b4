import { sql } from 'drizzle-orm'
import { LRUCache } from 'lru-cache'
import { z } from 'zod'
import { boughtTogether } from '../../core/recommend/baskets.ts'
import type { Facts } from '../../core/events/facts.ts'
import type { ProductsBlock } from '../../core/blocks/blocks.ts'
import { DAY_MS, HOUR_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { arrayOf, rowsOf, type Db } from '../platform/db.ts'
import { loadStats, type Product, type ShopStats } from './shopStats.ts'

/** What somebody bought in so many days is not shown to them again. */
const JUST_BOUGHT_DAYS = 30

const purchase = z.object({
  productId: z.string(),
  category: z.string().nullable(),
  isRecent: z.boolean(),
})
type Purchase = z.infer<typeof purchase>

/** Shops whose statistics are kept at a time. */
const MOST_SHOPS = 50

/** Finds products for people. Keeps what it has worked out of a shop for an hour of its clock. */
export class Recommender {
  readonly #kept = new LRUCache<string, { hour: number; stats: Promise<ShopStats> }>({
    max: MOST_SHOPS,
  })

  /**
   * The products that a block shows to somebody: those that can be bought, without what they have
   * just bought or what the message is about. Where its way of choosing finds too few, best sellers
   * follow; where there are none of those either, it shows fewer, or nothing.
   */
  async recommend(
    db: Db,
    shopId: string,
    { by, count }: Pick<ProductsBlock, 'by' | 'count'>,
    facts: Facts,
  ): Promise<Product[]> {
    const stats = await this.#statsOf(db, shopId, facts.now)
    const purchases = await purchasesOf(db, shopId, facts)
    const own = itemsOf(facts)
    const without = new Set([
      ...own,
      ...purchases.flatMap(({ productId, isRecent }) => (isRecent ? [productId] : [])),
    ])
    const chosen = [...new Set([...chosenBy(by, stats, own, purchases), ...stats.best])]
    const wanted = chosen.filter((id) => !without.has(id))
    const inStock = await thoseInStock(db, shopId, wanted)
    return wanted
      .filter((id) => inStock.has(id))
      .flatMap((id) => stats.products.get(id) ?? [])
      .slice(0, count)
  }

  /** All products of a shop as they can be looked at, by their ids; as old as an hour. */
  async looks(db: Db, shopId: string, now: Instant): Promise<ReadonlyMap<string, Product>> {
    return (await this.#statsOf(db, shopId, now)).products
  }

  #statsOf(db: Db, shopId: string, now: Instant): Promise<ShopStats> {
    const hour = Math.floor(now / HOUR_MS)
    const known = this.#kept.get(shopId)
    if (known?.hour === hour) return known.stats
    const stats = loadStats(db, shopId, now)
    this.#kept.set(shopId, { hour, stats })
    // What failed is tried again by whoever asks next.
    stats.catch(() => this.#kept.delete(shopId))
    return stats
  }
}

/** What is out of stock can be so since a moment ago. */
async function thoseInStock(db: Db, shopId: string, ids: readonly string[]): Promise<Set<string>> {
  const rows = await rowsOf(
    db,
    z.object({
      id: z.string(),
    }),
    sql`select id from products
    where shop_id = ${shopId} and in_stock and id = any(${arrayOf(ids, 'text')})`,
  )
  return new Set(rows.map(({ id }) => id))
}

function chosenBy(
  by: ProductsBlock['by'],
  stats: ShopStats,
  own: readonly string[],
  purchases: readonly Purchase[],
): string[] {
  switch (by) {
    case 'newest':
      return stats.newest
    case 'viewed':
      return stats.viewed
    case 'together':
      return boughtTogether(stats.baskets, own.length > 0 ? own : purchases.map(({ productId }) => productId)) // prettier-ignore
    case 'similar':
      return similar(stats, purchases)
    case 'best':
      return stats.best
  }
}

/** What sells best in the categories somebody has bought from, those they bought from most first. */
function similar({ best, products }: ShopStats, purchases: readonly Purchase[]): string[] {
  const bought = new Set(purchases.map(({ productId }) => productId))
  const times = new Map<string, number>()
  for (const { category } of purchases) {
    if (category !== null) times.set(category, (times.get(category) ?? 0) + 1)
  }
  const categories = [...times].toSorted(([a, x], [b, y]) => y - x || (a < b ? -1 : 1))
  return categories.flatMap(([category]) =>
    best.filter((id) => products.get(id)?.category === category && !bought.has(id)),
  )
}

/** What a message is about. */
function itemsOf({ order, checkout, basket, subscription, line }: Facts): string[] {
  const lines = (order ?? checkout ?? basket)?.lines ?? []
  const one = subscription?.product ?? line
  return [...lines, ...(one ? [one] : [])].map(({ productId }) => productId)
}

function purchasesOf(
  db: Db,
  shopId: string,
  { customer, now }: Pick<Facts, 'customer' | 'now'>,
): Promise<Purchase[]> {
  return rowsOf(
    db,
    purchase,
    sql`select l.product_id as "productId", l.category,
      coalesce(o.placed_at > ${now - JUST_BOUGHT_DAYS * DAY_MS}, false) as "isRecent"
    from orders o join order_lines l on l.shop_id = o.shop_id and l.order_id = o.id
    where o.shop_id = ${shopId} and o.customer_id = ${customer.id}
    order by o.placed_at desc nulls last limit 500`,
  )
}
