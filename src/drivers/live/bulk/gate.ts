import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { arrayOf, rowsOf, type Transaction } from '../../../backend/platform/db.ts'
import {
  holdRuns,
  isAhead,
  openBulk,
  releaseRuns,
  type BulkChange,
  type KeptRun,
} from '../../../backend/runs/index.ts'
import type { Shop } from '../../../backend/shop/index.ts'
import { doTo } from '../../../backend/workflows/index.ts'
import type { Instant } from '../../../core/shared/time.ts'
import { grouped } from '../../../core/shared/grouped.ts'
import type { Programs } from '../programs.ts'
import { moveToVersion } from './moveToVersion.ts'

/** What became of runs that a worker has claimed. */
interface Gated {
  /** Those that go on as they are. */
  goOn: KeptRun[]
  /** How many are dealt with; those of a workflow whose state is just being changed are left for the next time. */
  settled: number
}

/**
 * What is done to everybody in a workflow holds for a run from the moment at which it was asked for, though its turn is still to
 * come: in a pause it is held, and in an open change it has its turn now. The workflows are locked against being paused, resumed or
 * retired until the transaction is over.
 */
export async function gateRuns(
  tx: Transaction,
  programs: Programs,
  shop: Shop,
  now: Instant,
  claimed: readonly KeptRun[],
): Promise<Gated> {
  const ids = [...new Set(claimed.map(({ workflowId }) => workflowId))]
  const states = new Map(
    // Nobody waits for a lock with runs in hand: whoever has it may want those very runs.
    (await rowsOf(tx, z.object({ id: z.string(), state: z.string() }), sql`
      select id, state from workflows where shop_id = ${shop.id} and id = any(${arrayOf(ids, 'text')}) for key share skip locked`)).map(({ id, state }) => [id, state]),
  ) // prettier-ignore
  const open = grouped(await openBulk(tx, shop.id, ids), ({ workflowId }) => workflowId)
  const gated: Gated = { goOn: [], settled: 0 }
  for (const [workflowId, runs] of grouped(claimed, (run) => run.workflowId)) {
    const state = states.get(workflowId)
    if (state === undefined) continue
    let left: KeptRun[] = runs
    for (const change of open.get(workflowId) ?? []) {
      left = await takeTurn(tx, programs, shop, now, { change, state, runs: left })
    }
    if (state === 'paused')
      await holdRuns(tx, shop.id, left.map(({ id }) => id)) // prettier-ignore
    else gated.goOn.push(...left)
    gated.settled += runs.length
  }
  return gated
}

/** Gives those runs their turn in a change that it is still to come for. Returns who goes on from where they are. */
async function takeTurn(
  tx: Transaction,
  programs: Programs,
  shop: Shop,
  now: Instant,
  { change, state, runs }: { change: BulkChange; state: string; runs: KeptRun[] },
): Promise<KeptRun[]> {
  const concerned = runs.filter((run) => isAhead(change, run))
  const others = runs.filter((run) => !isAhead(change, run))
  if (concerned.length === 0) return runs
  if (change.kind === 'end') {
    await doTo(tx, change, concerned, now)
    return others
  }
  if (change.kind === 'release') {
    const { skipBefore } = change
    if (skipBefore !== null) await releaseRuns(tx, shop.id, concerned.map(({ id }) => id), skipBefore) // prettier-ignore
    return runs.map((run) => (concerned.includes(run) ? { ...run, skipBefore } : run))
  }
  const old = concerned.filter(({ version }) => version !== change.toVersion)
  const { moved } = await moveToVersion(tx, programs, shop, now, { change, runs: old, isPaused: state === 'paused' }) // prettier-ignore
  const done = new Set(moved)
  return runs.filter(({ id }) => !done.has(id))
}
