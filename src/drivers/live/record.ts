import { sql } from 'drizzle-orm'
import { recordsOf, type Db } from '../../backend/platform/db.ts'
import { addJobs } from '../../backend/platform/jobs.ts'
import type { Shop } from '../../backend/shop/index.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { LedgerEntry } from '../../core/words/decisions.ts'

/** What a ledger row says besides the entry itself. */
export interface LedgerSubject {
  workflowId: string
  version: number
  runId: number | null
  customerId: string
  orderId: string | null
}

export interface LedgerRow extends LedgerSubject {
  entry: LedgerEntry
}

/** Adds entries to the ledger, in their order, in one statement. */
export async function appendLedger(
  db: Db,
  shopId: string,
  at: Instant,
  rows: readonly LedgerRow[],
): Promise<void> {
  if (rows.length === 0) return
  const records = rows.map((row, position) => ({ ...row, position, kind: row.entry.kind }))
  await db.execute(sql`
    insert into ledger (shop_id, at, workflow_id, version, run_id, customer_id, order_id, kind, entry)
    select ${shopId}, ${at}, l."workflowId", l.version, l."runId", l."customerId", l."orderId",
      l.kind, l.entry
    from jsonb_to_recordset(${recordsOf(records)}) as l(position int, "workflowId" text, version int,
      "runId" bigint, "customerId" text, "orderId" text, kind text, entry jsonb)
    order by l.position`)
}

/**
 * Queues the messages that the entries decide to send, and a job for each run that has any. A
 * message that a run has been through before is not queued again.
 */
export async function queueMessages(
  db: Db,
  shop: Shop,
  at: Instant,
  rows: readonly LedgerRow[],
): Promise<void> {
  const records = rows.flatMap(({ entry, ...subject }, position) =>
    entry.kind === 'sends'
      ? [
          {
            ...subject,
            step: entry.step,
            position,
            messageId: messageId(shop, subject.runId, entry.step),
          },
        ]
      : [],
  )
  if (records.length === 0) return
  await db.execute(sql`
    insert into messages (shop_id, run_id, workflow_id, version, step, customer_id, status,
      message_id, decided_at)
    select ${shop.id}, m."runId", m."workflowId", m.version, m.step, m."customerId", 'queued',
      m."messageId", ${at}
    from jsonb_to_recordset(${recordsOf(records)}) as m(position int, "runId" bigint,
      "workflowId" text, version int, step text, "customerId" text, "messageId" text)
    order by m.position
    on conflict (shop_id, run_id, step) do nothing`)
  const runIds = [...new Set(records.flatMap((record) => record.runId ?? []))]
  await addJobs(
    db,
    runIds.map((runId) => sendJob(shop.id, runId)),
  )
}

/** The job that hands over what a run has queued. */
export function sendJob(shopId: string, runId: number) {
  return {
    name: 'sendMessages' as const,
    payload: { shopId, runId },
    key: `send:${shopId}:${runId}`,
  }
}

/** Deterministic per run and step, so that a second try is the same mail (RFC 5322 3.6.4). */
function messageId(shop: Shop, runId: number | null, step: string): string {
  const domain = shop.defaultSender.address.split('@')[1] ?? 'localhost'
  return `<${shop.id}.${runId}.${step}@${domain}>`
}
