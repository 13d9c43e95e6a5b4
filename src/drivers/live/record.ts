import { sql } from 'drizzle-orm'
import { recordsOf, type Db } from '../../backend/platform/db.ts'
import { addJobs, type JobSpec } from '../../backend/platform/jobs.ts'
import type { Shop } from '../../backend/shop/index.ts'
import type { Instant } from '../../core/shared/time.ts'
import { issueCoupons } from './coupons.ts'
import type { LedgerEntry } from '../../core/words/decisions.ts'
import type { DecidedRow, LedgerRow, LedgerSubject } from './ledgerRow.ts'
import { markCustomers } from './marks.ts'

/** Writes decisions down and sees to what they ask for: coupons, marks, messages, hooks. */
export async function record(
  db: Db,
  shop: Shop,
  at: Instant,
  rows: readonly DecidedRow[],
): Promise<void> {
  const written = await issueCoupons(db, shop.id, at, rows)
  await appendLedger(db, shop.id, at, written)
  await markCustomers(db, shop.id, written)
  await queueMessages(db, shop, at, written)
}

/** Adds entries to the ledger, in their order, in one statement. */
export async function appendLedger(
  db: Db,
  shopId: string,
  at: Instant,
  rows: readonly LedgerRow[],
): Promise<void> {
  if (rows.length === 0) return
  await db.execute(sql`
    insert into ledger (shop_id, at, workflow_id, version, run_id, customer_id, subject_id, kind, entry)
    select ${shopId}, ${at}, r."workflowId", r.version, r."runId", r."customerId", r."subjectId",
      e.entry->>'kind', e.entry
    from jsonb_to_recordset(${recordsOf(byRun(rows))}) as r(position int, "workflowId" text,
        version int, "runId" bigint, "customerId" text, "subjectId" text, entries jsonb),
      jsonb_array_elements(r.entries) with ordinality as e(entry, place)
    order by r.position, e.place`)
}

interface Entries extends LedgerSubject {
  position: number
  entries: LedgerEntry[]
}

/** Puts the entries of one run that follow each other together, so that PostgreSQL reads less. */
function byRun(rows: readonly LedgerRow[]): Entries[] {
  const groups: Entries[] = []
  let before: LedgerRow | undefined
  for (const row of rows) {
    const { workflowId, version, runId, customerId, subjectId, entry } = row
    const group = groups.at(-1)
    const isSame = runId !== null && runId === before?.runId && version === before.version
    if (group && isSame) group.entries.push(entry)
    else {
      const position = groups.length
      groups.push({ position, workflowId, version, runId, customerId, subjectId, entries: [entry] })
    }
    before = row
  }
  return groups
}

/** How many runs' messages one job hands over. */
const RUNS_PER_JOB = 20

/**
 * Queues the messages and hooks that the entries decide on, and jobs that hand them over. A message
 * that a run has been through before is not queued again.
 */
async function queueMessages(
  db: Db,
  shop: Shop,
  at: Instant,
  rows: readonly DecidedRow[],
): Promise<void> {
  const records = rows.flatMap((row, position) => queuedMessage(shop, row, position))
  if (records.length === 0) return
  await db.execute(sql`
    insert into messages (shop_id, run_id, workflow_id, version, step, customer_id, channel,
      marketing, marks, hours, status, message_id, decided_at)
    select ${shop.id}, m."runId", m."workflowId", m.version, m.step, m."customerId", m.channel,
      m.marketing, m.marks, m.hours, 'queued', m."messageId", ${at}
    from jsonb_to_recordset(${recordsOf(records)}) as m(position int, "runId" bigint,
      "workflowId" text, version int, step text, "customerId" text, channel text,
      marketing boolean, marks jsonb, hours jsonb, "messageId" text)
    order by m.position
    on conflict (shop_id, run_id, step) do nothing`)
  await addJobs(db, sendJobs(shop.id, [...new Set(records.map(({ runId }) => runId))]))
}

function queuedMessage(shop: Shop, row: DecidedRow, position: number) {
  const { program, entry, runId, workflowId, version, customerId } = row
  if ((entry.kind !== 'sends' && entry.kind !== 'calls') || runId === null) return []
  const instruction = program.instructions.get(entry.step)
  const step =
    instruction?.kind === 'message' || instruction?.kind === 'action' ? instruction.step : null
  if (!step) throw new RangeError(`There is nothing to send at step ${entry.step}`)
  return [
    {
      position,
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
