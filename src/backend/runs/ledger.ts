import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { Instant } from '../../core/shared/time.ts'
import type { ActEntry } from '../../core/people/act.ts'
import type { LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import { document, recordsOf, rowsOf, type Db } from '../platform/db.ts'

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

/** Takes the name of somebody who is erased off the ledger, and out of what its entries hold. */
export async function renameLedger(
  db: Db,
  shopId: string,
  customerId: string,
  { renamed, entryOf }: { renamed: (id: SQL) => SQL; entryOf: (entry: unknown) => unknown },
): Promise<void> {
  const rows = await rowsOf(
    db,
    z.object({ id: z.int(), entry: document<object>() }),
    sql`select id, entry from ledger where shop_id = ${shopId} and customer_id = ${customerId}`,
  )
  const records = rows.map(({ id, entry }) => ({ id, entry: entryOf(entry) }))
  await db.execute(sql`
    update ledger l set customer_id = ${renamed(sql`l.customer_id`)}, subject_id = ${renamed(sql`l.subject_id`)},
      entry = r.entry
    from jsonb_to_recordset(${recordsOf(records)}) as r(id bigint, entry jsonb)
    where l.shop_id = ${shopId} and l.id = r.id`)
}

/** Throws away what was decided before a moment, at most so many entries, but for runs that still go on. Returns how many. */
export async function forgetLedger(
  db: Db,
  shopId: string,
  before: Instant,
  most: number,
): Promise<number> {
  const gone = await db.execute(sql`
    delete from ledger l using (
      select o.id from ledger o
      where o.shop_id = ${shopId} and o.at < ${before} and not exists (
        select 1 from runs r where r.shop_id = o.shop_id and r.id = o.run_id and r.status = 'inProgress')
      order by o.id limit ${most}) old
    where l.shop_id = ${shopId} and l.id = old.id`)
  return gone.rowCount ?? 0
}
