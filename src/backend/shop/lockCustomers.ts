import { and, asc, eq, sql } from 'drizzle-orm'
import { arrayOf, type Db } from '../platform/db.ts'
import { customers } from './tables.ts'

/** Two workers that let one person in take turns, or an entry limit would not hold. */
export async function lockCustomers(
  db: Db,
  shopId: string,
  customerIds: readonly string[],
): Promise<void> {
  await db
    .select({ id: customers.id })
    .from(customers)
    .where(
      and(
        eq(customers.shopId, shopId),
        sql`${customers.id} = any(${arrayOf([...new Set(customerIds)], 'text')})`,
      ),
    )
    .orderBy(asc(customers.id))
    .for('no key update')
}
