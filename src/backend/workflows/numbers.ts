import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { WorkflowNumbers, WorkflowNumbersResponse } from '../../contract/workflows.ts'
import type { Instant } from '../../core/shared/time.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import { earnedByStep } from './earned.ts'
import { WAY } from './way.ts'

const ledgerCount = z.object({
  workflowId: z.string(),
  kind: z.string(),
  step: z.string().nullable(),
  branch: z.string().nullable(),
  exclusion: z.string().nullable(),
  count: z.number(),
})
type LedgerCount = z.infer<typeof ledgerCount>

const runCount = z.object({
  workflowId: z.string(),
  step: z.string().nullable(),
  waiting: z.number(),
  nextDueAt: z.number().nullable(),
})
type RunCount = z.infer<typeof runCount>

const openRow = z.object({
  workflowId: z.string(),
  count: z.number(),
})
type OpenMessages = z.infer<typeof openRow>

const NOTHING: WorkflowNumbers = {
  inProgress: 0,
  entered: 0,
  turnedAway: 0,
  sent: 0,
  skipped: 0,
  left: 0,
  needAttention: 0,
  nextDueAt: null,
}

/**
 * The numbers of every workflow of a shop, by its id: what happened since a moment, or ever, and who
 * is in progress now.
 */
export async function numbersOfAll(
  db: Db,
  shopId: string,
  since: Instant | null,
): Promise<Map<string, WorkflowNumbers>> {
  const counts = await ledgerCounts(db, shopId, { id: null, since })
  const waiting = await runCounts(db, shopId, null)
  const attention = await openMessages(db, shopId)
  const ids = new Set([...counts, ...waiting].map((row) => row.workflowId))
  return new Map(
    [...ids].map((id) => {
      const mine = <Row extends { workflowId: string }>(rows: Row[]) =>
        rows.filter((row) => row.workflowId === id)
      return [id, totals(mine(counts), mine(waiting), mine(attention))]
    }),
  )
}

/** The numbers of one workflow, step by step. */
export async function numbersOf(
  db: Db,
  shopId: string,
  id: string,
): Promise<WorkflowNumbersResponse> {
  const counts = await ledgerCounts(db, shopId, { id, since: null })
  const waiting = await runCounts(db, shopId, id)
  const attention = (await openMessages(db, shopId)).filter((row) => row.workflowId === id)
  const onOlderVersions = await olderVersionCount(db, shopId, id)
  const steps = new Set([...counts, ...waiting].flatMap((row) => row.step ?? []))
  const sum = (kind: string, step: string) =>
    total(counts.filter((row) => row.kind === kind && row.step === step))
  return {
    total: totals(counts, waiting, attention),
    steps: [...steps].map((step) => ({
      step,
      waiting: waiting
        .filter((row) => row.step === step)
        .reduce((all, row) => all + row.waiting, 0),
      sent: sum('sent', step),
      skipped: sum('skipped', step),
      left: sum('left', step),
      failed: sum('failed', step),
      done: sum('issues', step) + sum('marks', step),
    })),
    branches: counts
      .filter((row) => WAYS.has(row.kind))
      .map(({ step, branch, count }) => ({ step: step ?? '', branch, taken: count })),
    earned: await earnedByStep(db, shopId, id),
    exclusions: exclusionCounts(counts),
    onOlderVersions,
  }
}

/** The kinds of decision by which people part. */
const WAYS: ReadonlySet<string> = new Set(['tookBranch', 'tookArm', 'came'])

async function olderVersionCount(db: Db, shopId: string, id: string): Promise<number> {
  const [row] = await rowsOf(
    db,
    z.object({
      count: z.number(),
    }),
    sql`select count(*) as count from runs r
    join workflows w on w.shop_id = r.shop_id and w.id = r.workflow_id
    where r.shop_id = ${shopId} and r.workflow_id = ${id} and r.status = 'inProgress'
      and r.version <> w.live_version`,
  )
  return row?.count ?? 0
}

function exclusionCounts(counts: readonly LedgerCount[]): { exclusion: string; left: number }[] {
  const left = new Map<string, number>()
  for (const row of counts) {
    if (row.kind !== 'left' || row.exclusion === null) continue
    left.set(row.exclusion, (left.get(row.exclusion) ?? 0) + row.count)
  }
  return [...left].map(([exclusion, count]) => ({ exclusion, left: count }))
}

const total = (rows: readonly { count: number }[]): number =>
  rows.reduce((sum, row) => sum + row.count, 0)

function totals(
  counts: readonly LedgerCount[],
  waiting: readonly RunCount[],
  attention: readonly OpenMessages[],
): WorkflowNumbers {
  const ofKind = (kind: string) => total(counts.filter((row) => row.kind === kind))
  const due = waiting.flatMap((row) => row.nextDueAt ?? [])
  return {
    ...NOTHING,
    inProgress: waiting.reduce((sum, row) => sum + row.waiting, 0),
    entered: ofKind('entered'),
    turnedAway: ofKind('turnedAway'),
    sent: ofKind('sent'),
    skipped: ofKind('skipped'),
    left: ofKind('left'),
    needAttention: total(attention),
    nextDueAt: due.length === 0 ? null : Math.min(...due),
  }
}

/** The numbers of a workflow that nothing has happened in. */
export function noNumbers(): WorkflowNumbers {
  return { ...NOTHING }
}

function ledgerCounts(
  db: Db,
  shopId: string,
  { id, since }: { id: string | null; since: Instant | null },
): Promise<LedgerCount[]> {
  return rowsOf(
    db,
    ledgerCount,
    sql`select workflow_id as "workflowId", kind, entry->>'step' as step,
      ${WAY} as branch,
      entry->>'exclusion' as exclusion, count(*) as count
    from ledger where shop_id = ${shopId} and (${id}::text is null or workflow_id = ${id})
      and (${since}::bigint is null or at >= ${since})
      and kind in ('entered', 'turnedAway', 'tookBranch', 'tookArm', 'came', 'issues',
        'marks', 'sent', 'skipped', 'left', 'failed')
    group by 1, 2, 3, 4, 5`,
  )
}

function runCounts(db: Db, shopId: string, id: string | null): Promise<RunCount[]> {
  return rowsOf(
    db,
    runCount,
    sql`select workflow_id as "workflowId", step, count(*) as waiting, min(parked_until) as "nextDueAt"
    from runs where shop_id = ${shopId} and (${id}::text is null or workflow_id = ${id})
      and status = 'inProgress'
    group by 1, 2`,
  )
}

function openMessages(db: Db, shopId: string): Promise<OpenMessages[]> {
  return rowsOf(
    db,
    openRow,
    sql`select workflow_id as "workflowId", count(*) as count from messages
    where shop_id = ${shopId} and status in ('failed', 'unsure') group by 1`,
  )
}
