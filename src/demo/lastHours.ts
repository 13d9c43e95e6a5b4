import { sql } from 'drizzle-orm'
import { Logger, runOnce, type TaskList } from 'graphile-worker'
import type { Database } from '../backend/platform/db.ts'
import { jobsInHand } from '../backend/platform/jobs.ts'
import { ingestEvents, readClock, setClock } from '../backend/shop/index.ts'
import { pauseWorkflow } from '../backend/workflows/index.ts'
import type { Instant } from '../core/shared/time.ts'
import { nextDue } from '../drivers/live/moveClock.ts'
import type { Programs } from '../drivers/live/programs.ts'
import { runDue } from '../drivers/live/runDue.ts'
import { sendReleased } from '../drivers/live/sendReleased.ts'
import { sweepDates } from '../drivers/live/sweepDates.ts'
import type { DemoEvent } from './demoEvent.ts'
import { DEMO_START } from './history.ts'
import { DEMO_SHOP } from './seed.ts'
import { PAUSED_WORKFLOW } from './workflows/index.ts'

/** What does the work of the last hours: the same tasks that a worker does. */
export interface Work {
  db: Database
  programs: Programs
  tasks: TaskList
  /** Called when all is done. */
  done: () => void
}

/**
 * Lets the last hours happen: each event comes in at its time, some twice or late; runs start, waits end and mails leave
 * as they do in a worker, so that runs, ledger and mailbox hold what really happened. In one loop, with nobody to wait for.
 */
export async function liveLastHours(work: Work, recent: readonly DemoEvent[]): Promise<void> {
  const { db } = work
  const heldBack: object[] = []
  for (const [index, { at, event }] of recent.entries()) {
    await moveTo(work, at)
    if (index % 40 === 20) {
      heldBack.push(event)
      continue
    }
    const late = index % 40 === 27 ? heldBack.splice(0) : []
    await ingestEvents(db, DEMO_SHOP, index % 50 === 0 ? [event, event] : [event, ...late])
    await settle(work, false)
  }
  await ingestEvents(db, DEMO_SHOP, heldBack)
  await settle(work, false)
  await moveTo(work, DEMO_START)
  const { rows } = await db.execute(
    sql`select id from workflows where draft->>'name' = ${PAUSED_WORKFLOW.name}`,
  )
  await pauseWorkflow(db, DEMO_SHOP, String(rows[0]?.['id']))
  work.done()
}

/** Moves the clock from one moment at which something is due to the next, as the worker does. */
async function moveTo(work: Work, target: Instant): Promise<void> {
  for (;;) {
    const { now } = await readClock(work.db, DEMO_SHOP)
    if (now >= target) return
    const next = await nextDue(work.db, DEMO_SHOP, now)
    const isDue = next !== null && next <= target
    await setClock(work.db, DEMO_SHOP, isDue ? next : target)
    if (isDue) await settle(work, true)
  }
}

/** Does all the work there is at this moment; dates and what was held only where the clock has come to one of theirs. */
async function settle({ db, programs, tasks }: Work, isDue: boolean): Promise<void> {
  for (;;) {
    if (await jobsInHand(db)) {
      await runOnce({ pgPool: db.$client, taskList: tasks, noHandleSignals: true, logger: SILENT })
      continue
    }
    if ((await runDue(db, programs, DEMO_SHOP)) > 0) continue
    if (!isDue) return
    if (await sweepDates(db, programs, DEMO_SHOP)) continue
    if ((await sendReleased(db, DEMO_SHOP)) === 0) return
  }
}

const SILENT = new Logger(() => () => undefined)
