import { sql } from 'drizzle-orm'
import { rowsOf, type Database, type Db } from '../../backend/platform/db.ts'
import { jobsInHand } from '../../backend/platform/jobs.ts'
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
  const due = await rowsOf(
    db,
    sql`select 1 from runs where shop_id = ${shopId} and due_at <= ${now} limit 1`,
  )
  return due.length > 0 || (await jobsInHand(db))
}

/** The next moment after `now` at which a run is due, or null. */
export async function nextDue(db: Db, shopId: string, now: Instant): Promise<Instant | null> {
  const [row] = await rowsOf<{ next: Instant | null }>(
    db,
    sql`select min(due_at) as next from runs where shop_id = ${shopId} and due_at > ${now}`,
  )
  return row?.next ?? null
}
