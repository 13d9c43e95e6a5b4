import { sql } from 'drizzle-orm'
import { noteSeen } from '../../messages/queue.ts'
import { recordsOf, type Db } from '../../platform/db.ts'
import type { TimedEvent } from './timedEvent.ts'

/** What became of messages: first opening and click; addresses that must not be written to again. */
export async function projectMessageEvents(
  db: Db,
  shopId: string,
  events: TimedEvent[],
): Promise<void> {
  const records = events.flatMap(({ event, at }) =>
    'message' in event.data ? [{ ...event.data.message, type: event.type, at }] : [],
  )
  if (records.length === 0) return
  const incoming = sql`jsonb_to_recordset(${recordsOf(records)}) as e("customerId" text, id text,
    address text, permanent boolean, type text, at bigint)`
  // Who clicks has seen it, whether or not the opening was noticed.
  await noteSeen(
    db,
    shopId,
    records
      .filter(({ type }) => type === 'message.opened' || type === 'message.clicked')
      .map(({ id, type, at }) => ({
        id,
        openedAt: at,
        clickedAt: type === 'message.clicked' ? at : null,
      })),
  )
  // A report is about the address the message went to. One that names neither is about the address
  // of then, if that is still theirs.
  await db.execute(sql`
    insert into dead_addresses (shop_id, address, since)
    select ${shopId}, dead.address, min(dead.at)
    from (select lower(coalesce(e.address, m.to_address, c.email)) as address, e.at
      from ${incoming}
      left join messages m on m.shop_id = ${shopId} and m.message_id = e.id
      left join customers c on m.id is null and c.shop_id = ${shopId} and c.id = e."customerId"
        and coalesce((c.recorded_at->>'email')::bigint, 0) <= e.at
      where e.type = 'message.bounced' and e.permanent
        and coalesce(m.channel, 'email') = 'email') as dead
    where dead.address is not null
    group by dead.address order by dead.address
    on conflict do nothing`)
}
