import { queueMessages, type NewMessage } from '../../backend/messages/index.ts'
import type { Db } from '../../backend/platform/db.ts'
import { addJobs, type JobSpec } from '../../backend/platform/jobs.ts'
import { appendLedger } from '../../backend/runs/index.ts'
import type { Shop } from '../../backend/shop/index.ts'
import type { Instant } from '../../core/shared/time.ts'
import { issueCoupons } from './coupons.ts'
import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import type { Program } from '../../core/workflow/compile.ts'
import type { HookStep, MessageStep } from '../../core/workflow/steps.ts'
import type { DecidedRow } from './decidedRow.ts'
import { markCustomers } from './marks.ts'
import { tellPassedOver } from './watched.ts'

/** Writes decisions down and sees to what they ask for: coupons, marks, messages, hooks. */
export async function record(
  db: Db,
  shop: Shop,
  at: Instant,
  rows: readonly DecidedRow[],
): Promise<void> {
  const written = await issueCoupons(db, shop.id, at, rows)
  await appendLedger(db, shop.id, at, written)
  tellPassedOver(written.map(({ entry }) => entry))
  await markCustomers(db, shop.id, written)
  await queueDecided(db, shop, at, written)
}

/** How many runs' messages one job hands over. */
const RUNS_PER_JOB = 20

/**
 * Queues the messages and hooks that the entries decide on, and jobs that hand them over. A message
 * that a run has been through before is not queued again.
 */
async function queueDecided(
  db: Db,
  shop: Shop,
  at: Instant,
  rows: readonly DecidedRow[],
): Promise<void> {
  const records = rows.flatMap((row) => queuedMessage(shop, row))
  if (records.length === 0) return
  await queueMessages(db, shop.id, at, records)
  await addJobs(db, sendJobs(shop.id, [...new Set(records.map(({ runId }) => runId))]))
}

function queuedMessage(shop: Shop, row: DecidedRow): NewMessage[] {
  const { program, entry, runId, workflowId, version, customerId } = row
  if ((entry.kind !== 'sends' && entry.kind !== 'calls') || runId === null) return []
  const step = leavingStep(program, entry.step)
  return [
    {
      runId,
      workflowId,
      version,
      step: entry.step,
      customerId,
      channel: step.kind,
      marketing: 'purpose' in step && step.purpose === 'marketing',
      marks: entry.marks ?? null,
      hours: hoursOf(entry),
      messageId: messageId(shop, runId, entry.step),
    },
  ]
}

/** The step of a program at which something leaves. Throws RangeError for one of another kind. */
function leavingStep(program: Program, key: string): MessageStep | HookStep {
  const instruction = program.instructions.get(key)
  if (instruction?.kind === 'message') return instruction.step
  if (instruction?.kind === 'action' && instruction.step.kind === 'hook') return instruction.step
  throw new RangeError(`There is nothing to send at step ${key}`)
}

const hoursOf = (entry: LedgerEntry) => (entry.kind === 'sends' ? (entry.hours ?? null) : null)

/** Jobs that hand over what runs have queued, several runs to a job. */
export function sendJobs(shopId: string, runIds: readonly number[]): JobSpec<'sendMessages'>[] {
  const jobs: JobSpec<'sendMessages'>[] = []
  for (let from = 0; from < runIds.length; from += RUNS_PER_JOB) {
    const some = runIds.slice(from, from + RUNS_PER_JOB)
    jobs.push({ name: 'sendMessages', payload: { shopId, runIds: some } })
  }
  return jobs
}

/** Deterministic per run and step, so that a second try is the same mail (RFC 5322 3.6.4). */
function messageId(shop: Shop, runId: number, step: string): string {
  const domain = shop.defaultSender.address.split('@')[1] ?? 'localhost'
  return `<${shop.id}.${runId}.${step}@${domain}>`
}
