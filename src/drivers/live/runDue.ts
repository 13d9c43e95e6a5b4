import type { Database } from '../../backend/platform/db.ts'
import { claimDue } from '../../backend/runs/index.ts'
import { findShop, readClock } from '../../backend/shop/index.ts'
import { gateRuns } from './bulk/gate.ts'
import { moveRuns } from './moveRuns.ts'
import type { Programs } from './programs.ts'

/** How many runs one transaction takes on. */
const BATCH_SIZE = 500
/** How many of them one lane takes on before other shops have their turn. */
const LANE_BATCHES = 4

/**
 * Takes the runs of a shop that are due, at most a batch, and moves each as far as it goes. State,
 * ledger, messages and jobs are committed together; a crash before that leaves the runs due.
 * Returns how many it took, 0 when nothing is due that another worker has not taken.
 */
export async function runDue(
  db: Database,
  programs: Programs,
  shopId: string,
  limit = BATCH_SIZE,
): Promise<number> {
  const shop = await findShop(db, shopId)
  return db.transaction(async (tx) => {
    const { now } = await readClock(tx, shopId)
    const due = await claimDue(tx, shopId, now, limit)
    if (due.length === 0) return 0
    const { goOn, settled } = await gateRuns(tx, programs, shop, now, due)
    if (goOn.length > 0) await moveRuns(tx, programs, shop, now, goOn)
    return settled
  })
}

/**
 * Takes what is due of a shop in two lanes at once when there is much: while PostgreSQL works for one,
 * the other decides. Stops after some batches, since other shops have their turn. Returns how many runs
 * it took, 0 when nothing is due.
 */
export async function runMuchDue(
  db: Database,
  programs: Programs,
  shopId: string,
): Promise<number> {
  const first = await runDue(db, programs, shopId)
  if (first < BATCH_SIZE) return first
  const lane = async (): Promise<number> => {
    let taken = 0
    for (let batch = 0; batch < LANE_BATCHES; batch += 1) {
      const count = await runDue(db, programs, shopId)
      taken += count
      if (count < BATCH_SIZE) break
    }
    return taken
  }
  // When one fails the other is still waited for, so that no more than two are ever under way.
  const lanes = await Promise.allSettled([lane(), lane()])
  return lanes.reduce((sum, one) => {
    if (one.status === 'rejected') throw one.reason
    return sum + one.value
  }, first)
}
