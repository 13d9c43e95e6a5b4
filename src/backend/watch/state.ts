import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../platform/db.ts'
import { realNow } from '../platform/realTime.ts'

const stateRow = z.object({
  /** For how long the job that has waited longest could have been done, in seconds; 0 where none waits. */
  queueAgeS: z.number(),
  jobs: z.int(),
  workers: z.int(),
  /** By how much what is due longest is late, over shops that go by real time, in seconds. */
  dueLagS: z.number(),
  shops: z.int(),
})

/** How an installation stands: what waits, for how long, and who works on it. */
export type WorkState = z.infer<typeof stateRow>

/** Reads how work stands, over all shops, in a few looks at indexes. */
export async function workState(db: Db): Promise<WorkState> {
  const now = realNow()
  const [row] = await rowsOf(db, stateRow, sql`
    select
      coalesce((select extract(epoch from now() - min(greatest(run_at, created_at))) from graphile_worker.jobs
        where run_at <= now() and locked_at is null), 0)::float8 as "queueAgeS",
      (select count(*) from graphile_worker.jobs where run_at <= now())::int as jobs,
      (select count(*) from workers)::int as workers,
      coalesce((select max(${now}::bigint - d.first) / 1000.0 from shops s cross join lateral (
          select due_at as first from due_runs where shop_id = s.id order by due_at limit 1) d
        where s.clock_now is null and d.first <= ${now}::bigint), 0)::float8 as "dueLagS",
      (select count(*) from shops)::int as shops`) // prettier-ignore
  if (!row) throw new Error('The state of work cannot be read')
  return row
}

const openRow = z.object({ status: z.string(), count: z.int() })

/** How many messages have not left yet, by how they stand. */
export function openMessages(db: Db): Promise<z.infer<typeof openRow>[]> {
  return rowsOf(db, openRow, sql`
    select status, count(*)::int as count from messages
    where status in ('queued', 'held', 'handingOver', 'failed', 'unsure') group by 1 order by 1`) // prettier-ignore
}
