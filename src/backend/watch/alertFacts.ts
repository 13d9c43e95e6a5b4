import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { AlertFacts } from '../../core/alerts/alerts.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { rowsOf, type Db } from '../platform/db.ts'

const WEEK_MS = 7 * DAY_MS
const FOUR_WEEKS_MS = 28 * DAY_MS
/** So many of the last arrivals say how often something comes. */
const ARRIVALS = 100

const open = z.object({ oldest: z.int().nullable(), queued: z.int(), failed: z.int(), error: z.string().nullable() }) // prettier-ignore
const mails = z.object({ sent: z.int(), bounced: z.int(), complained: z.int() })
const connection = z.object({ id: z.string(), name: z.string(), isOn: z.boolean(), arrivals: z.array(z.int()) }) // prettier-ignore
const workflow = z.object({ id: z.string(), name: z.string(), lastWeek: z.int(), fourWeeksBefore: z.int() }) // prettier-ignore

/** Reads all that alerts of a shop go by; `now` is of its clock. */
export async function alertFacts(db: Db, shopId: string, now: Instant): Promise<AlertFacts> {
  // The messages that have not left stand in an index of their own.
  const [waiting] = await rowsOf(db, open, sql`
    select (min(decided_at) filter (where status = 'queued'))::float8 as oldest,
      (count(*) filter (where status = 'queued'))::int as queued,
      (count(*) filter (where status in ('failed', 'unsure')))::int as failed,
      (array_agg(last_error order by id desc) filter (where last_error is not null))[1] as error
    from messages where shop_id = ${shopId} and status in ('queued', 'failed', 'unsure')`) // prettier-ignore
  const [said] = await rowsOf(db, mails, sql`
    select (select count(*) from messages where shop_id = ${shopId} and channel = 'email' and status = 'sent'
        and decided_at > ${now - WEEK_MS}::bigint)::int as sent,
      (count(*) filter (where type = 'message.bounced'))::int as bounced,
      (count(*) filter (where type = 'message.complained'))::int as complained
    from events where shop_id = ${shopId} and type in ('message.bounced', 'message.complained') and time > ${now - WEEK_MS}::bigint`) // prettier-ignore
  const connections = await rowsOf(db, connection, sql`
    select c.id, c.name, c.is_on as "isOn", coalesce((select array_agg(received_at::float8 order by id) from (
        select id, received_at from connection_bodies where shop_id = c.shop_id and connection_id = c.id
        order by id desc limit ${ARRIVALS}) last), '{}') as arrivals
    from connections c where c.shop_id = ${shopId}`) // prettier-ignore
  const workflows = await rowsOf(db, workflow, sql`
with sent as (
      select workflow_id, (count(*) filter (where sent_at > ${now - WEEK_MS}::bigint))::int as last,
        (count(*) filter (where sent_at <= ${now - WEEK_MS}::bigint))::int as before
      from messages where shop_id = ${shopId} and status = 'sent' and sent_at > ${now - WEEK_MS - FOUR_WEEKS_MS}::bigint
      group by workflow_id)
    select w.id, w.draft->>'name' as name, coalesce(s.last, 0) as "lastWeek", coalesce(s.before, 0) as "fourWeeksBefore"
    from workflows w left join sent s on s.workflow_id = w.id
    where w.shop_id = ${shopId} and w.state = 'live'`) // prettier-ignore
  return {
    now,
    oldestQueuedAt: waiting?.oldest ?? null,
    queued: waiting?.queued ?? 0,
    failed: waiting?.failed ?? 0,
    lastError: waiting?.error ?? null,
    mails: said ?? { sent: 0, bounced: 0, complained: 0 },
    connections,
    workflows,
  }
}
