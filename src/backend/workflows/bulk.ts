import type { Instant } from '../../core/shared/time.ts'
import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import { skipRest } from '../messages/queue.ts'
import type { Db } from '../platform/db.ts'
import { nextOfBulk, noteBulk, type BulkChange } from '../runs/index.ts'
import { appendLedger } from '../runs/ledger.ts'
import { endRuns, releaseRuns, type KeptRun } from '../runs/store.ts'

/** So many have their turn in one transaction: what others wait for stays short, and few are done at once, before the answer. */
const BULK_BATCH = 1000

/** Gives a batch of those that a change concerns their turn; all but `move`, which takes the interpreter. Locked by the caller. */
export async function workOff(
  db: Db,
  change: BulkChange,
  now: Instant,
  most = BULK_BATCH,
): Promise<void> {
  if (change.endedAt !== null) return
  const runs = await nextOfBulk(db, change, most)
  await doTo(db, change, runs, now)
  const noted = await noteBulk(db, change, { runs, now })
  // With fewer than a batch nobody is left: said at once, or few people would look like many.
  if (runs.length < most && noted.endedAt === null) await noteBulk(db, noted, { runs: [], now }) // prettier-ignore
}

/** Does to runs what a change is about. */
export async function doTo(
  db: Db,
  { shopId, kind, skipBefore, person }: BulkChange,
  runs: readonly KeptRun[],
  now: Instant,
): Promise<void> {
  const ids = runs.map(({ id }) => id)
  if (ids.length === 0) return
  if (kind === 'release') return releaseRuns(db, shopId, ids, skipBefore)
  await endRuns(db, shopId, ids)
  await skipRest(db, shopId, ids)
  const entry: LedgerEntry = { kind: 'retired', step: null, person }
  await appendLedger(
    db,
    shopId,
    now,
    runs.map(({ id, workflowId, version, customerId, subjectId }) => ({
      workflowId,
      version,
      runId: id,
      customerId,
      subjectId,
      entry,
    })),
  )
}
