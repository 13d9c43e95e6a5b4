import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { countBaskets, type BasketCounts } from '../../core/recommend/baskets.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { rowsOf, type Db } from '../platform/db.ts'

/** A product as a message shows it. */
const productRow = z.object({
  id: z.string(),
  title: z.string(),
  category: z.string().nullable(),
  priceMinor: z.number(),
  currency: z.string(),
  url: z.string().nullable(),
  imageUrl: z.string().nullable(),
})
export type Product = z.infer<typeof productRow>

/** What a shop's orders and views say of its products. Not all of them can be bought at any time. */
export interface ShopStats {
  products: ReadonlyMap<string, Product>
  /** Product ids, the first the most so. */
  best: string[]
  newest: string[]
  viewed: string[]
  baskets: BasketCounts
}

const BASKET_DAYS = 365
const BEST_DAYS = 90
const VIEWED_DAYS = 30

/** Works out the statistics of a shop from what was ordered and looked at up to a moment. */
export async function loadStats(db: Db, shopId: string, now: Instant): Promise<ShopStats> {
  const products = await rowsOf(
    db,
    productRow,
    sql`select id, title, category, price_minor as "priceMinor", currency, url,
      image_url as "imageUrl"
    from products where shop_id = ${shopId}
    order by first_seen_at desc nulls last, id`,
  )
  const lines = await rowsOf(
    db,
    z.object({
      orderId: z.string(),
      productId: z.string(),
      placedAt: z.number(),
    }),
    sql`select l.order_id as "orderId", l.product_id as "productId", o.placed_at as "placedAt"
    from order_lines l join orders o on o.shop_id = l.shop_id and o.id = l.order_id
    where o.shop_id = ${shopId} and o.placed_at > ${now - BASKET_DAYS * DAY_MS}
      and o.placed_at <= ${now} and o.status not in ('cancelled', 'refunded')`,
  )
  const viewed = await rowsOf(
    db,
    z.object({
      id: z.string(),
    }),
    sql`select data->'product'->>'productId' as id from events
    where shop_id = ${shopId} and type = 'product.viewed' and time > ${now - VIEWED_DAYS * DAY_MS}
      and time <= ${now}
    group by 1 order by count(*) desc, 1 limit 100`,
  )
  const baskets = new Map<string, string[]>()
  const sold = new Map<string, number>()
  for (const { orderId, productId, placedAt } of lines) {
    baskets.set(orderId, [...(baskets.get(orderId) ?? []), productId])
    const isRecent = placedAt > now - BEST_DAYS * DAY_MS
    if (isRecent) sold.set(productId, (sold.get(productId) ?? 0) + 1)
  }
  return {
    products: new Map(products.map((product) => [product.id, product])),
    best: [...sold].toSorted(([a, x], [b, y]) => y - x || (a < b ? -1 : 1)).map(([id]) => id),
    newest: products.map(({ id }) => id),
    viewed: viewed.map(({ id }) => id),
    baskets: countBaskets([...baskets.values()]),
  }
}
