import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { readClock } from '../shop/index.ts'

const row = z.object({ events: z.int(), runs: z.int(), messages: z.int() })

/** What is still to be done of what has come in up to an event. */
export interface Outstanding extends z.infer<typeof row> {
  /** Nothing: whatever the event and those before it bring at this moment has been done. */
  done: boolean
}

/**
 * Whether all work up to an event is done: it and those before it looked at, runs that are due gone on, messages that were
 * decided handed over. What waits for a later moment does not count. Throws AppError `not_found` for an event that never came.
 */
export async function outstandingUpTo(
  db: Db,
  shopId: string,
  { source, id }: { source: string; id: string },
): Promise<Outstanding> {
  const [event] = await rowsOf(db, z.object({ seq: z.int() }), sql`select seq from events
    where shop_id = ${shopId} and source = ${source} and event_id = ${id}`)
  if (!event) throw new AppError('not_found', 'No such event has come in.')
  const { now } = await readClock(db, shopId)
  const [open = { events: 0, runs: 0, messages: 0 }] = await rowsOf(db, row, sql`select
    (select count(*)::int from events where shop_id = ${shopId} and seq <= ${event.seq} and not considered) as events,
    (select count(*)::int from due_runs where shop_id = ${shopId} and due_at <= ${now}) as runs,
    (select count(*)::int from messages where shop_id = ${shopId} and status in ('queued', 'handingOver')) as messages`)
  return { ...open, done: open.events + open.runs + open.messages === 0 }
} // prettier-ignore
