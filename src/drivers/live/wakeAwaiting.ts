import { sql } from 'drizzle-orm'
import { recordsOf, type Db } from '../../backend/platform/db.ts'
import type { EventType } from '../../core/events/eventTypes.ts'
import type { Instant } from '../../core/shared/time.ts'

interface News {
  type: EventType
  customerId: string
  subjectId: string | null
}

/**
 * Makes runs due that wait for events like these, or for a date of the very thing they tell of. The
 * interpreter then sees whether it is what they wait for; those it is not for go on waiting.
 */
export async function wakeAwaiting(
  db: Db,
  shopId: string,
  now: Instant,
  news: readonly News[],
): Promise<void> {
  await db.execute(sql`
    update runs set due_at = ${now}
    from jsonb_to_recordset(${recordsOf(news.map(({ type, customerId, subjectId }) => ({ type, customerId, subjectId })))})
      as n(type text, "customerId" text, "subjectId" text)
    where runs.shop_id = ${shopId} and runs.customer_id = n."customerId"
      and runs.awaits is not null and runs.due_at > ${now}
      and (runs.awaits = n.type or (runs.awaits = 'subject' and runs.subject_id = n."subjectId"))`)
}
