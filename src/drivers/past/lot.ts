import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../../backend/platform/db.ts'

/** The lives of so many people are gone through; of more, some are drawn by lot. */
const MOST_PEOPLE = 5_000

/**
 * Of a shop with more people than can be gone through, one in so many is drawn: always the same ones, so that two drafts are held
 * against the same people. 1 for all. What is counted of them stands for so many times as many.
 */
export async function lotOf(db: Db, shopId: string): Promise<number> {
  const [row] = await rowsOf(db, z.object({ n: z.number() }), sql`select count(*)::int as n from customers where shop_id = ${shopId}`) // prettier-ignore
  return Math.max(1, Math.ceil((row?.n ?? 0) / MOST_PEOPLE))
}

/** True of those who were drawn. */
export function isDrawn(column: SQL, oneIn: number): SQL {
  return oneIn === 1
    ? sql`true`
    : sql`(hashtextextended(${column}, 0) & 2147483647) % ${oneIn}::bigint = 0`
}
