import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { Instant } from '../../core/shared/time.ts'
import { rowsOf, type Db } from '../platform/db.ts'

/** Whoever has not been heard of for so long has left. */
const LEFT_AFTER_MS = 20_000

/** Somebody with a workflow open in a window of their browser. */
export interface Visit {
  workflowId: string
  visit: string
  userId: string
}

/** Somebody else, or the same person in another window. */
const otherVisitor = z.object({ userId: z.string(), name: z.string() })
export type OtherVisitor = z.infer<typeof otherVisitor>

/**
 * Notes that somebody has a workflow open and tells who else has, each person once. `now` is real
 * time. Those who were not heard of for 20 seconds are forgotten.
 */
export async function noteVisit(
  db: Db,
  shopId: string,
  { workflowId, visit, userId }: Visit,
  now: Instant,
): Promise<OtherVisitor[]> {
  await db.execute(sql`
    insert into workflow_visits (shop_id, workflow_id, visit, user_id, seen_at)
    values (${shopId}, ${workflowId}, ${visit}, ${userId}, ${now})
    on conflict (shop_id, workflow_id, visit)
      do update set user_id = excluded.user_id, seen_at = excluded.seen_at`)
  await db.execute(sql`
    delete from workflow_visits where shop_id = ${shopId} and seen_at < ${now - LEFT_AFTER_MS}`)
  return rowsOf(
    db,
    otherVisitor,
    sql`select distinct users.id as "userId", users.name
    from workflow_visits visits
    join users on users.shop_id = visits.shop_id and users.id = visits.user_id
    where visits.shop_id = ${shopId} and visits.workflow_id = ${workflowId}
      and visits.visit <> ${visit}
    order by users.name`,
  )
}

/** Notes that somebody has closed a workflow, or their window. */
export async function endVisit(
  db: Db,
  shopId: string,
  { workflowId, visit }: Omit<Visit, 'userId'>,
): Promise<void> {
  await db.execute(sql`
    delete from workflow_visits
    where shop_id = ${shopId} and workflow_id = ${workflowId} and visit = ${visit}`)
}
