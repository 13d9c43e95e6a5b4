import { and, eq, inArray } from 'drizzle-orm'
import type { Db } from '../platform/db.ts'
import { products } from './tables.ts'

/** The titles of some products of a shop, by id; what is not sold (any more) has none. */
export async function productTitles(
  db: Db,
  shopId: string,
  ids: readonly string[],
): Promise<ReadonlyMap<string, string>> {
  if (ids.length === 0) return new Map()
  const rows = await db
    .select({ id: products.id, title: products.title })
    .from(products)
    .where(and(eq(products.shopId, shopId), inArray(products.id, [...ids])))
  return new Map(rows.map(({ id, title }) => [id, title]))
}
