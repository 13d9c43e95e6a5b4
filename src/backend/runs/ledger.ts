import { sql } from 'drizzle-orm'
import type { Instant } from '../../core/shared/time.ts'
import type { ActEntry } from '../../core/people/act.ts'
import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import { recordsOf, type Db } from '../platform/db.ts'

/** What a ledger row says besides the entry itself. */
export interface LedgerSubject {
  workflowId: string
  version: number
  runId: number | null
  customerId: string
  subjectId: string | null
}

export interface LedgerRow extends LedgerSubject {
  entry: LedgerEntry
}

/** Adds entries to the ledger, in their order, and notes that something has changed for their people, in one statement. */
export async function appendLedger(
  db: Db,
  shopId: string,
  at: Instant,
  rows: readonly LedgerRow[],
): Promise<void> {
  if (rows.length === 0) return
  await db.execute(sql`
    with r as materialized (
      select * from jsonb_to_recordset(${recordsOf(byRun(rows))}) as r(position int, "workflowId" text,
        version int, "runId" bigint, "customerId" text, "subjectId" text, entries jsonb)
    ), noted as (
      insert into changes (shop_id, customer_id, at)
      select distinct ${shopId}, r."customerId", ${at}::bigint from r
    )
    insert into ledger (shop_id, at, workflow_id, version, run_id, customer_id, subject_id, kind, entry)
    select ${shopId}, ${at}, r."workflowId", r.version, r."runId", r."customerId", r."subjectId",
      e.entry->>'kind', e.entry
    from r, jsonb_array_elements(r.entries) with ordinality as e(entry, place)
    order by r.position, e.place`)
}

/** Adds what somebody of the shop did to people, outside of any workflow. */
export async function appendActs(
  db: Db,
  shopId: string,
  at: Instant,
  acts: readonly { customerId: string; entry: ActEntry }[],
): Promise<void> {
  await db.execute(sql`
    insert into ledger (shop_id, at, customer_id, kind, entry)
    select ${shopId}, ${at}, a."customerId", a.entry->>'kind', a.entry
    from jsonb_to_recordset(${recordsOf(acts)}) as a("customerId" text, entry jsonb)`)
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
