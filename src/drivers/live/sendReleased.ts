import { releaseHeld } from '../../backend/messages/index.ts'
import type { Database } from '../../backend/platform/db.ts'
import { addJobs } from '../../backend/platform/jobs.ts'
import { readClock } from '../../backend/shop/index.ts'
import { sendJobs } from './record.ts'

/** Has the messages handed over whose quiet hours are over. Returns how many. */
export async function sendReleased(db: Database, shopId: string): Promise<number> {
  return db.transaction(async (tx) => {
    const { now } = await readClock(tx, shopId)
    const runIds = await releaseHeld(tx, shopId, now)
    await addJobs(tx, sendJobs(shopId, [...new Set(runIds)]))
    return runIds.length
  })
}
