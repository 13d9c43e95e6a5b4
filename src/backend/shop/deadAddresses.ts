import { sql } from 'drizzle-orm'
import type { Instant } from '../../core/shared/time.ts'
import { arrayOf, type Db } from '../platform/db.ts'

/** Notes that addresses do not exist, so that nobody writes to them again. */
export async function noteDeadAddresses(
  db: Db,
  shopId: string,
  addresses: readonly string[],
  since: Instant,
): Promise<void> {
  await db.execute(sql`
    insert into dead_addresses (shop_id, address, since)
    select distinct ${shopId}, lower(address), ${since}::bigint
    from unnest(${arrayOf(addresses, 'text')}) as address
    order by 2
    on conflict do nothing`)
}
