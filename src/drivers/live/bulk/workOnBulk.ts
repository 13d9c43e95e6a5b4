import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Database, type Transaction } from '../../../backend/platform/db.ts'
import {
  nextOfBulk,
  noteBulk,
  takeBulk,
  workflowsWithBulk,
  type BulkChange,
} from '../../../backend/runs/index.ts'
import { findShop, readClock, type Shop } from '../../../backend/shop/index.ts'
import { workOff } from '../../../backend/workflows/index.ts'
import type { Instant } from '../../../core/shared/time.ts'
import type { Programs } from '../programs.ts'
import { moveToVersion } from './moveToVersion.ts'

/** Fewer than of what needs no interpreter: each is asked about anew. */
const MOVE_BATCH = 150

/**
 * Gives a batch of those their turn whom an open change of a workflow concerns. Turns, and how far the change has come, are one
 * transaction: killed in the middle, it goes on where it was. Returns false when there is nothing to be done.
 */
export async function workOnBulk(
  db: Database,
  programs: Programs,
  shopId: string,
  most?: number,
): Promise<boolean> {
  for (const workflowId of await workflowsWithBulk(db, shopId)) {
    const worked = await db.transaction((tx) => workOnOne(tx, programs, shopId, workflowId, most))
    if (worked) return true
  }
  return false
}

async function workOnOne(
  tx: Transaction,
  programs: Programs,
  shopId: string,
  workflowId: string,
  most: number | undefined,
): Promise<boolean> {
  // Before anything else: whoever changes its state has this lock, and wants the change that is locked next.
  const [workflow] = await rowsOf(tx, z.object({ state: z.string() }), sql`
    select state from workflows where shop_id = ${shopId} and id = ${workflowId} for key share skip locked`) // prettier-ignore
  if (!workflow) return false
  const change = await takeBulk(tx, shopId, workflowId)
  if (!change) return false
  const { now } = await readClock(tx, shopId)
  if (change.kind !== 'move') await workOff(tx, change, now, most)
  else {
    const shop = await findShop(tx, shopId)
    await workOffMove(tx, programs, shop, now, {
      change,
      isPaused: workflow.state === 'paused',
      most,
    })
  }
  return true
}

/** Moves a batch of those a change concerns; locked by the caller. */
export async function workOffMove(
  tx: Transaction,
  programs: Programs,
  shop: Shop,
  now: Instant,
  {
    change,
    isPaused,
    most = MOVE_BATCH,
  }: { change: BulkChange; isPaused: boolean; most?: number | undefined },
): Promise<BulkChange> {
  if (change.endedAt !== null) return change
  const runs = await nextOfBulk(tx, change, most)
  const { moved } = await moveToVersion(tx, programs, shop, now, { change, runs, isPaused })
  const noted = await noteBulk(tx, change, { runs, stay: runs.length - moved.length, now })
  const isDone = runs.length < most && noted.endedAt === null
  return isDone ? noteBulk(tx, noted, { runs: [], now }) : noted
}
