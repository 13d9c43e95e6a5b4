import { sql } from 'drizzle-orm'
import { rowsOf, type Database } from '../../backend/platform/db.ts'
import { addJobs } from '../../backend/platform/jobs.ts'
import { readClock } from '../../backend/shop/index.ts'
import { sendJobs } from './record.ts'

/** Queues the messages whose quiet hours are over, but for those of a paused workflow. Returns how many. */
export async function releaseHeld(db: Database, shopId: string): Promise<number> {
  return db.transaction(async (tx) => {
    const { now } = await readClock(tx, shopId)
    const rows = await rowsOf<{ runId: number }>(
      tx,
      sql`update messages m set status = 'queued', held_until = null
      from workflows w
      where m.shop_id = ${shopId} and m.status = 'held' and m.held_until <= ${now}
        and w.shop_id = m.shop_id and w.id = m.workflow_id and w.state <> 'paused'
      returning m.run_id as "runId"`,
    )
    await addJobs(tx, sendJobs(shopId, [...new Set(rows.map(({ runId }) => runId))]))
    return rows.length
  })
}
