import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { healthResponse, type PressureResponse } from '../../contract/overview.ts'
import { CUSTOMER_CHANNELS } from '../../core/channels/catalogue.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { arrayOf, rowsOf, type Db } from '../platform/db.ts'

const WEEK_MS = 7 * DAY_MS
const LOOKED_BACK_MS = 28 * DAY_MS
/** From so many messages a week on people are counted together. */
const MANY = 6
const MOST_PEOPLE = 8
const MOST_PAIRS = 8

const toCustomers = sql`m.channel = any(${arrayOf(CUSTOMER_CHANNELS, 'text')})`

/** How the mail of the last four weeks was taken: what came back, and who complained. */
export async function mailHealth(db: Db, shopId: string, now: Instant) {
  const reported = (type: string) => sql`exists (select 1 from events
    where events.shop_id = ${shopId} and events.customer_id = m.customer_id and events.type = ${type}
      and events.data->'message'->>'id' = m.message_id)`
  const [row] = await rowsOf(
    db,
    healthResponse,
    sql`select count(*) as sent, count(*) filter (where bounced) as bounced,
      count(*) filter (where not bounced) as delivered, count(*) filter (where complained) as complained
    from (select ${reported('message.bounced')} as bounced, ${reported('message.complained')} as complained
      from messages m where m.shop_id = ${shopId} and m.status = 'sent' and m.channel = 'email'
        and m.sent_at > ${now - LOOKED_BACK_MS}::bigint) mail`,
  )
  return row ?? { sent: 0, bounced: 0, delivered: 0, complained: 0 }
}

/** How many messages people got in the last week, who got most in four, and whose marketing meets in one person. */
export async function pressure(db: Db, shopId: string, now: Instant): Promise<PressureResponse> {
  const perWeek = await rowsOf(
    db,
    z.object({ messages: z.int(), people: z.int() }),
    sql`select least(messages, ${MANY}::int) as messages, count(*) as people
    from (select count(*) as messages from messages m
      where m.shop_id = ${shopId} and m.status = 'sent' and ${toCustomers}
        and m.sent_at > ${now - WEEK_MS}::bigint group by m.customer_id) each
    group by 1 order by 1`,
  )
  const most = await rowsOf(
    db,
    z.object({ customerId: z.string(), name: z.string().nullable(), email: z.string().nullable(), messages: z.int(), marketing: z.int() }), // prettier-ignore
    sql`select m.customer_id as "customerId", nullif(concat_ws(' ', c.first_name, c.last_name), '') as name,
      c.email, count(*) as messages, count(*) filter (where m.marketing) as marketing
    from messages m left join customers c on c.shop_id = m.shop_id and c.id = m.customer_id
    where m.shop_id = ${shopId} and m.status = 'sent' and ${toCustomers}
      and m.sent_at > ${now - LOOKED_BACK_MS}::bigint
    group by 1, 2, 3 order by 4 desc, 1 limit ${MOST_PEOPLE}`,
  )
  const meeting = await rowsOf(
    db,
    z.object({ first: z.string(), second: z.string(), people: z.int() }),
    sql`with sent as materialized (
      select m.customer_id, m.workflow_id, m.sent_at from messages m
      where m.shop_id = ${shopId} and m.status = 'sent' and m.marketing and ${toCustomers}
        and m.sent_at > ${now - LOOKED_BACK_MS}::bigint
    )
    select a.workflow_id as first, b.workflow_id as second, count(distinct a.customer_id) as people
    from sent a join sent b on b.customer_id = a.customer_id and b.workflow_id > a.workflow_id
      and abs(b.sent_at - a.sent_at) <= ${WEEK_MS}::bigint
    group by 1, 2 order by 3 desc limit ${MOST_PAIRS}`,
  )
  return { perWeek, most, meeting }
}
