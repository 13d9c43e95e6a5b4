import { sql } from 'drizzle-orm'
import type { Instant } from '../../core/shared/time.ts'
import { recordsOf, type Db } from '../platform/db.ts'

export { countingDays, forgetChanged } from './forget.ts'

/** Something that has happened to a customer. */
export interface Change {
  customerId: string
  /** When, by the shop clock; it may be long ago. */
  at: Instant
}

/** Notes in the caller's transaction that counts of what happened to these people may not hold any more. */
export async function noteChanges(
  db: Db,
  shopId: string,
  happened: readonly Change[],
): Promise<void> {
  if (happened.length === 0) return
  await db.execute(sql`
    insert into changes (shop_id, customer_id, at)
    select distinct ${shopId}, c."customerId", c.at
    from jsonb_to_recordset(${recordsOf(happened)}) as c("customerId" text, at bigint)`)
}
