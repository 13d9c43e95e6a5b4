import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'

/** Where something of a person is kept, and what it is called in what is handed out. */
const PARTS: Readonly<Record<string, SQL>> = {
  orders: sql`select o.*, (select jsonb_agg(to_jsonb(l) - 'shop_id' order by l.position) from order_lines l
    where l.shop_id = o.shop_id and l.order_id = o.id) as lines from orders o`,
  subscriptions: sql`select * from subscriptions o`,
  basketsAndCheckouts: sql`select * from carts o`,
  reviews: sql`select * from reviews o`,
  events: sql`select o.type, o.time, o.received_at, o.source, o.event_id, o.data, o.shop_id, o.customer_id from events o`,
  workflows: sql`select o.* from runs o`,
  decisions: sql`select o.* from ledger o`,
  messages: sql`select o.*, m.plain as text from messages o left join lateral (
    select plain from mails where mails.shop_id = o.shop_id and mails.message_id = o.message_id limit 1) m on true`,
  coupons: sql`select * from coupons o`,
  expectedReorders: sql`select * from expected_reorders o`,
}

/** Everything that is known of somebody, as it is kept. */
export interface PersonData {
  person: Record<string, unknown>
  parts: Record<string, Record<string, unknown>[]>
}

const row = z.object({ of: z.record(z.string(), z.unknown()) })

/** Everything that is known of somebody, for them to have. Throws AppError `not_found`. */
export async function personData(db: Db, shopId: string, id: string): Promise<PersonData> {
  const own = sql`o.shop_id = ${shopId} and o.customer_id = ${id}`
  const [person] = await rowsOf(db, row, sql`select to_jsonb(c) - 'shop_id' - 'search' as of from customers c
    where c.shop_id = ${shopId} and c.id = ${id}`)
  if (!person) throw new AppError('not_found', 'There is nobody by that id.')
  const parts: PersonData['parts'] = {}
  for (const [name, query] of Object.entries(PARTS)) {
    const rows = await rowsOf(db, row, sql`select to_jsonb(p) - 'shop_id' - 'customer_id' as of
      from (${query} where ${own}) p`)
    parts[name] = rows.map(({ of }) => of)
  }
  return { person: person.of, parts }
} // prettier-ignore
