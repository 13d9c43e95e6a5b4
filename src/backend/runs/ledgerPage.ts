import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { LedgerRow, LedgerShow } from '../../contract/activity.ts'
import type { ActEntry } from '../../core/people/act.ts'
import { actEntryWords } from '../../core/words/actWords.ts'
import type { WordContext } from '../../core/words/conditions.ts'
import { entryWords } from '../../core/words/decisions.ts'
import { reasonOf, type LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { arrayOf, containing, document, rowsOf, type Db } from '../platform/db.ts'
import type { Shop } from '../shop/index.ts'
import { wordsFor } from './titles.ts'

const PAGE = 60

/** What each choice shows, by kind of entry. */
const KINDS: Readonly<Record<Exclude<LedgerShow, 'all'>, readonly string[]>> = {
  sent: ['sent'],
  notSent: ['skipped', 'left'],
  turnedAway: ['turnedAway'],
  acts: ['acted', 'takenOut', 'hurried', 'repaired'],
  attention: ['failed', 'unsure', 'retries', 'stuck'],
}

const ledgerRow = z.object({
  id: z.number(),
  at: z.number(),
  kind: z.string(),
  entry: document<LedgerEntry | ActEntry>(),
  runId: z.number().nullable(),
  /** Null for what was done to a person outside of any workflow. */
  workflowId: z.string().nullable(),
  definition: document<Definition>().nullable(),
  customerId: z.string(),
  firstName: z.string().nullable(),
  lastName: z.string().nullable(),
  email: z.string().nullable(),
  orderNumber: z.string().nullable(),
})
type Row = z.infer<typeof ledgerRow>

export interface LedgerFilter {
  show: LedgerShow
  workflow?: string | undefined
  /** The id of one person, exactly. */
  customer?: string | undefined
  search?: string | undefined
  before?: number | undefined
}

/** A page of the ledger, newest first, as sentences. */
export async function ledgerPage(
  db: Db,
  shop: Shop,
  filter: LedgerFilter,
  most = PAGE,
): Promise<{ rows: LedgerRow[]; more: boolean }> {
  const customers = filter.search ? await customersFound(db, shop.id, filter.search) : null
  const rows = await rowsOf(
    db,
    ledgerRow,
    sql`select l.id, l.at, l.kind, l.entry, l.run_id as "runId", l.workflow_id as "workflowId",
      v.definition, l.customer_id as "customerId", c.first_name as "firstName",
      c.last_name as "lastName", c.email, o.number as "orderNumber"
    from ledger l
    left join workflow_versions v on v.shop_id = l.shop_id and v.workflow_id = l.workflow_id
      and v.version = l.version
    left join customers c on c.shop_id = l.shop_id and c.id = l.customer_id
    left join orders o on o.shop_id = l.shop_id and o.id = l.subject_id
    where ${conditions(shop.id, filter, customers)}
    order by l.id desc limit ${most + 1}`,
  )
  const words = await wordsFor(db, shop, rows.map(({ entry }) => entry)) // prettier-ignore
  return { rows: rows.slice(0, most).map((row) => toLine(row, words)), more: rows.length > most }
}

/** More than that are not looked through one by one. */
const MOST_FOUND = 2000

/**
 * Whom a search is about: people by name or address, and those whose order has such a number. Their rows
 * are then read by index, however long the ledger is. `many` when there are so many that walking through the
 * ledger finds a page of them soon.
 */
async function customersFound(
  db: Db,
  shopId: string,
  search: string,
): Promise<{ ids: string[]; orders: { id: string; customerId: string }[] } | 'many'> {
  const pattern = containing(search)
  const people = await rowsOf(
    db,
    z.object({
      id: z.string(),
    }),
    sql`select id from customers where shop_id = ${shopId} and search ilike ${pattern}
      limit ${MOST_FOUND + 1}`,
  )
  const orders = await rowsOf(
    db,
    z.object({
      id: z.string(),
      customerId: z.string(),
    }),
    sql`select id, customer_id as "customerId" from orders
      where shop_id = ${shopId} and number ilike ${pattern} limit ${MOST_FOUND + 1}`,
  )
  if (people.length > MOST_FOUND || orders.length > MOST_FOUND) return 'many'
  return { ids: people.map(({ id }) => id), orders }
}

type Found = Awaited<ReturnType<typeof customersFound>>

function conditions(
  shopId: string,
  { show, workflow, customer, search, before }: LedgerFilter,
  found: Found | null,
): SQL {
  const parts = [sql`l.shop_id = ${shopId}`]
  if (before !== undefined) parts.push(sql`l.id < ${before}`)
  if (workflow !== undefined) parts.push(sql`l.workflow_id = ${workflow}`)
  if (customer !== undefined) parts.push(sql`l.customer_id = ${customer}`)
  // "Decided to send" is followed by "sent" in the same breath; shown together they read twice.
  if (show === 'all') parts.push(sql`l.kind <> 'sends'`)
  else parts.push(sql`l.kind = any(${sql.param(KINDS[show])}::text[])`)
  if (search && found === 'many') {
    const pattern = containing(search)
    parts.push(sql`(c.search ilike ${pattern} or o.number ilike ${pattern})`)
  } else if (found !== null && found !== 'many') {
    const { ids, orders } = found
    const buyers = orders.map(({ customerId }) => customerId)
    const orderIds = orders.map(({ id }) => id)
    parts.push(sql`(l.customer_id = any(${arrayOf(ids, 'text')})
      or (l.customer_id = any(${arrayOf(buyers, 'text')}) and l.subject_id = any(${arrayOf(orderIds, 'text')})))`)
  }
  return sql.join(parts, sql` and `)
}

function toLine(row: Row, words: WordContext): LedgerRow {
  return {
    id: row.id,
    at: row.at,
    kind: row.kind,
    ...saidOf(row.entry, row.definition, words),
    runId: row.runId,
    workflow:
      row.workflowId === null ? null : { id: row.workflowId, name: row.definition?.name ?? '' },
    customer: { id: row.customerId, name: fullName(row.firstName, row.lastName), email: row.email },
    orderNumber: row.orderNumber,
  }
}

/** What an entry says: of a workflow's decision, or of what somebody did to a person. */
export function saidOf(
  entry: LedgerEntry | ActEntry,
  definition: Definition | null,
  context: WordContext,
): Pick<LedgerRow, 'reason' | 'words' | 'step'> {
  if (entry.kind === 'acted')
    return { reason: null, words: actEntryWords(entry, context), step: null }
  if (definition === null) throw new RangeError(`A decision “${entry.kind}” without its workflow`)
  return {
    reason: reasonOf(entry),
    words: entryWords(entry, definition, context),
    step: 'step' in entry ? entry.step : null,
  }
}

/** A person's name as lists show it; empty when none is known. */
export function fullName(firstName: string | null, lastName: string | null): string {
  return [firstName, lastName].filter((part) => part !== null && part !== '').join(' ')
}
