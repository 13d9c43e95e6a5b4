import type { Database, Transaction } from '../../backend/platform/db.ts'
import { heldAndDue, type KeptRun } from '../../backend/runs/index.ts'
import { findShop, readClock, type Shop } from '../../backend/shop/index.ts'
import type { Instant } from '../../core/shared/time.ts'
import { loadFacts } from './facts/index.ts'
import type { Programs } from './programs.ts'
import { move, programsOf, requestOf } from './moveRuns.ts'

/** What resuming a paused workflow sets going at once. */
export interface Overdue {
  /** Runs in which something is sent. */
  overdue: number
  /** Runs that leave by an exclusion instead. */
  leaving: number
  /** Since when the oldest of those in which something is sent is due; null where nobody can say. */
  oldestAt: Instant | null
}

const BATCH = 500

/**
 * What would come of the people of a paused workflow if it were resumed now. Each is taken as far as
 * they would go, and nothing of it is written down.
 */
export async function overdueIn(
  db: Database,
  programs: Programs,
  shopId: string,
  id: string,
): Promise<Overdue> {
  const shop = await findShop(db, shopId)
  return db.transaction(
    async (tx) => {
      const { now } = await readClock(tx, shopId)
      const sum: Overdue = { overdue: 0, leaving: 0, oldestAt: null }
      let runs = await heldAndDue(tx, shopId, id, { now, after: 0, most: BATCH })
      while (runs.length > 0) {
        await add(sum, tx, programs, shop, now, runs)
        const after = runs.at(-1)?.id ?? 0
        runs =
          runs.length < BATCH ? [] : await heldAndDue(tx, shopId, id, { now, after, most: BATCH })
      }
      return sum
    },
    { accessMode: 'read only', isolationLevel: 'repeatable read' },
  )
}

async function add(
  sum: Overdue,
  tx: Transaction,
  programs: Programs,
  shop: Shop,
  now: Instant,
  runs: readonly KeptRun[],
): Promise<void> {
  const programOf = await programsOf(tx, programs, shop.id, runs)
  const requests = runs.map((run) => requestOf(run, programOf(run)))
  const source = await loadFacts(tx, shop, requests, now)
  for (const run of runs) {
    const { entries } = move(run, programOf(run), source)
    if (entries.some(({ kind }) => kind === 'sends' || kind === 'calls')) {
      sum.overdue += 1
      const { dueAt } = run
      if (dueAt !== null) sum.oldestAt = Math.min(sum.oldestAt ?? dueAt, dueAt)
    } else if (entries.some(({ kind }) => kind === 'left')) sum.leaving += 1
  }
}
