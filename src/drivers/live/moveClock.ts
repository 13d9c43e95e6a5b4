import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Database, type Db } from '../../backend/platform/db.ts'
import { jobsInHand } from '../../backend/platform/jobs.ts'
import { workflowsWithBulk } from '../../backend/runs/index.ts'
import { readClock, setClock } from '../../backend/shop/index.ts'
import type { Instant } from '../../core/shared/time.ts'

/**
 * Takes a clock that is on its way one moment further: to the next time something is due, or to its
 * target. It stays where it is while anything of the present moment is still being worked on, so
 * that all happens in order, each at its own time.
 */
export async function stepClock(
  db: Database,
  shopId: string,
): Promise<'moved' | 'waitsForWork' | 'stands'> {
  const before = await readClock(db, shopId)
  if (before.target === null) return 'stands'
  if (await busy(db, shopId, before.now)) return 'waitsForWork'
  return db.transaction(async (tx) => {
    // One worker moves the clock at a time; the row is the lock.
    await tx.execute(sql`select 1 from shops where id = ${shopId} for update`)
    const { now, target } = await readClock(tx, shopId)
    if (target === null || now !== before.now) return 'stands'
    const next = await nextDue(tx, shopId, now)
    await setClock(tx, shopId, next === null ? target : Math.min(next, target))
    return 'moved'
  })
}

async function busy(db: Database, shopId: string, now: Instant): Promise<boolean> {
  const next = await nextDue(db, shopId, -1)
  if (next !== null && next <= now) return true
  return (await workflowsWithBulk(db, shopId)).length > 0 || jobsInHand(db)
}

/**
 * The first moment later than `after` at which a run is due, a date trigger can go off, it is somebody's turn
 * to be let in, or held messages may leave; null if there is none.
 */
export async function nextDue(db: Db, shopId: string, after: Instant): Promise<Instant | null> {
  const [row] = await rowsOf(
    db,
    z.object({
      next: z.number().nullable(),
    }),
    sql`select least(
      (select d.due_at from due_runs d join runs r on r.shop_id = d.shop_id and r.id = d.run_id
        join workflows w on w.shop_id = r.shop_id and w.id = r.workflow_id and w.state <> 'paused'
        where d.shop_id = ${shopId} and d.due_at > ${after} order by d.due_at limit 1),
      (select min(s.next_at) from date_sweeps s
        join workflows w on w.shop_id = s.shop_id and w.id = s.workflow_id and w.state = 'live'
        where s.shop_id = ${shopId} and s.next_at > ${after}),
      (select min(p.due_at) from intake_people p
        join workflows w on w.shop_id = p.shop_id and w.id = p.workflow_id and w.state = 'live'
        where p.shop_id = ${shopId} and p.due_at > ${after}),
      (select min(m.held_until) from messages m
        join workflows w on w.shop_id = m.shop_id and w.id = m.workflow_id and w.state <> 'paused'
        where m.shop_id = ${shopId} and m.status = 'held' and m.held_until > ${after})) as next`,
  )
  return row?.next ?? null
}
