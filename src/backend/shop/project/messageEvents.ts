import { sql } from 'drizzle-orm'
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
    permanent boolean, type text, at bigint)`
  // Who clicks has seen it, whether or not the opening was noticed.
  await db.execute(sql`
    update messages as m set opened_at = least(m.opened_at, e.opened_at),
      clicked_at = least(m.clicked_at, e.clicked_at)
    from (select id, min(at) as opened_at, min(at) filter (where type = 'message.clicked') as clicked_at
      from ${incoming} where type in ('message.opened', 'message.clicked') group by id) as e
    where m.shop_id = ${shopId} and m.message_id = e.id`)
  await db.execute(sql`
    update customers as c set suppressed = e.why
    from (select distinct on ("customerId") "customerId",
        case type when 'message.complained' then 'complained' when 'message.bounced' then 'bounced'
          else 'unsubscribed' end as why
      from ${incoming}
      where type in ('message.complained', 'message.unsubscribed')
        or (type = 'message.bounced' and permanent)
      -- The hardest reason counts.
      order by "customerId", case type when 'message.bounced' then 1
        when 'message.complained' then 2 else 3 end) as e
    where c.shop_id = ${shopId} and c.id = e."customerId"
      and (c.suppressed is null or c.suppressed = 'unsubscribed')`)
}
