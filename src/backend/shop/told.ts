import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { EventData } from '../../core/events/cloudEvent.ts'
import { EVENT_TYPES } from '../../core/events/eventTypes.ts'
import type { ToldEvent } from '../../core/life/lived.ts'
import { containing, document, rowsOf, type Db } from '../platform/db.ts'

/** More than this nobody's life is looked at, the newest of it. */
const MOST_EVENTS = 3000

const toldRow = z.object({
  id: z.string(),
  type: z.enum(EVENT_TYPES),
  at: z.int(),
  data: document<EventData>(),
})

/** All that was told of a customer, in order of time; of a long life the newest. */
export async function toldOf(db: Db, shopId: string, customerId: string): Promise<ToldEvent[]> {
  const rows = await rowsOf(
    db,
    toldRow,
    sql`select event_id as id, type, time as at, data from events
    where shop_id = ${shopId} and customer_id = ${customerId}
    order by time desc, seq desc limit ${MOST_EVENTS}`,
  )
  return rows.toReversed().map(({ at, ...event }) => ({ at, event }))
}

const personRow = z.object({
  id: z.string(),
  name: z.string().nullable(),
  email: z.string().nullable(),
})

/** People by name, address or the number of an order of theirs; those of whom something was told last, first. */
export function findPeople(
  db: Db,
  shopId: string,
  search: string,
): Promise<z.infer<typeof personRow>[]> {
  return rowsOf(
    db,
    personRow,
    sql`select c.id, nullif(concat_ws(' ', c.first_name, c.last_name), '') as name, c.email
    from customers c
    where c.shop_id = ${shopId} and c.id in (
      select id from customers where shop_id = ${shopId} and search ilike ${containing(search)}
      union all select customer_id from orders where shop_id = ${shopId} and number = ${search})
    order by c.as_of desc, c.id limit 8`,
  )
}
