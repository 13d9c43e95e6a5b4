import { sql, type SQL } from 'drizzle-orm'
import type { LedgerRow, LedgerShow } from '../../contract/activity.ts'
import { entryWords, type LedgerEntry } from '../../core/words/decisions.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { rowsOf, type Db } from '../platform/db.ts'
import type { Shop } from '../shop/index.ts'

const PAGE = 60

/** What each choice shows, by kind of entry. */
const KINDS: Readonly<Record<Exclude<LedgerShow, 'all'>, readonly string[]>> = {
  sent: ['sent'],
  notSent: ['skipped', 'left'],
  turnedAway: ['turnedAway'],
  attention: ['failed', 'unsure', 'retries', 'stuck'],
}

interface Row extends Record<string, unknown> {
  id: number
  at: number
  kind: string
  entry: LedgerEntry
  runId: number | null
  workflowId: string
  definition: Definition
  customerId: string
  firstName: string | null
  lastName: string | null
  email: string | null
  orderNumber: string | null
}

export interface LedgerFilter {
  show: LedgerShow
  workflow?: string | undefined
  search?: string | undefined
  before?: number | undefined
}

/** A page of the ledger, newest first, as sentences. */
export async function ledgerPage(
  db: Db,
  shop: Shop,
  filter: LedgerFilter,
): Promise<{ rows: LedgerRow[]; more: boolean }> {
  const rows = await rowsOf<Row>(
    db,
    sql`select l.id, l.at, l.kind, l.entry, l.run_id as "runId", l.workflow_id as "workflowId",
      v.definition, l.customer_id as "customerId", c.first_name as "firstName",
      c.last_name as "lastName", c.email, o.number as "orderNumber"
    from ledger l
    join workflow_versions v on v.shop_id = l.shop_id and v.workflow_id = l.workflow_id
      and v.version = l.version
    left join customers c on c.shop_id = l.shop_id and c.id = l.customer_id
    left join orders o on o.shop_id = l.shop_id and o.id = l.subject_id
    where ${conditions(shop.id, filter)}
    order by l.id desc limit ${PAGE + 1}`,
  )
  return { rows: rows.slice(0, PAGE).map((row) => toLine(row, shop)), more: rows.length > PAGE }
}

function conditions(shopId: string, { show, workflow, search, before }: LedgerFilter): SQL {
  const parts = [sql`l.shop_id = ${shopId}`]
  if (before !== undefined) parts.push(sql`l.id < ${before}`)
  if (workflow !== undefined) parts.push(sql`l.workflow_id = ${workflow}`)
  // "Decided to send" is followed by "sent" in the same breath; shown together they read twice.
  if (show === 'all') parts.push(sql`l.kind <> 'sends'`)
  else parts.push(sql`l.kind = any(${sql.param(KINDS[show])}::text[])`)
  if (search) {
    const pattern = `%${search.replaceAll(/[\\%_]/g, String.raw`\$&`)}%`
    parts.push(sql`(concat_ws(' ', c.first_name, c.last_name) ilike ${pattern}
      or c.email ilike ${pattern} or o.number ilike ${pattern})`)
  }
  return sql.join(parts, sql` and `)
}

function toLine(row: Row, shop: Shop): LedgerRow {
  return {
    id: row.id,
    at: row.at,
    kind: row.kind,
    words: entryWords(row.entry, row.definition, shop),
    step: 'step' in row.entry ? row.entry.step : null,
    runId: row.runId,
    workflow: { id: row.workflowId, name: row.definition.name },
    customer: { id: row.customerId, name: fullName(row.firstName, row.lastName), email: row.email },
    orderNumber: row.orderNumber,
  }
}

/** A person's name as lists show it; empty when none is known. */
export function fullName(firstName: string | null, lastName: string | null): string {
  return [firstName, lastName].filter((part) => part !== null && part !== '').join(' ')
}
