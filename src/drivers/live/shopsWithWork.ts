import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../../backend/platform/db.ts'
import { realNow } from '../../backend/platform/realTime.ts'

/**
 * The shops in which something is to be done now, in no order: each worker begins with another, and none is always last. Asked in
 * one go by indexes of what is due, so that shops in which nothing happens cost next to nothing. It knows all that the rounds of a worker do
 * (`worker/worker.ts`).
 */
export async function shopsWithWork(db: Db): Promise<string[]> {
  const inState = (table: string, state: 'live' | 'not paused') => sql`
    join workflows w on w.shop_id = ${sql.raw(table)}.shop_id and w.id = ${sql.raw(table)}.workflow_id
      and ${state === 'live' ? sql`w.state = 'live'` : sql`w.state <> 'paused'`}`
  const rows = await rowsOf(db, z.object({ id: z.string() }), sql`
    with clocks as (select id, clock_target, coalesce(clock_now, ${realNow()}::bigint) as now from shops where moving_since is null)
    select s.id from clocks s
    where s.clock_target is not null
      -- The first of them, by its index: asked whether there is any, PostgreSQL would read them all in shops where there is none.
      or (select d.due_at from due_runs d where d.shop_id = s.id order by d.due_at limit 1) <= s.now
      or exists (select from bulk_changes b where b.shop_id = s.id and b.ended_at is null)
      or exists (select from date_sweeps d ${inState('d', 'live')} where d.shop_id = s.id and d.next_at <= s.now)
      or exists (select from intake_people p ${inState('p', 'live')} where p.shop_id = s.id and p.due_at <= s.now)
      or exists (select from messages m ${inState('m', 'not paused')}
        where m.shop_id = s.id and m.status = 'held' and m.held_until <= s.now)
      or not exists (select from reorder_reckonings k where k.shop_id = s.id and k.next_at > s.now)
    order by random()`) // prettier-ignore
  return rows.map(({ id }) => id)
}
