import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { RunResponse } from '../../contract/activity.ts'
import { ORDER_STATUSES, orderStatus } from '../../core/events/entities.ts'
import { formatMoney } from '../../core/shared/money.ts'
import type { WordContext } from '../../core/words/conditions.ts'
import { entryWords } from '../../core/words/decisions.ts'
import { reasonOf, type LedgerEntry } from '../../core/workflow/ledgerEntry.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { document, rowsOf, type Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import type { Shop } from '../shop/index.ts'
import { wordsFor } from './titles.ts'
import { fullName } from './ledgerPage.ts'

const runRow = z.object({
  id: z.number(),
  workflowId: z.string(),
  version: z.number(),
  definition: document<Definition>(),
  customerId: z.string(),
  firstName: z.string().nullable(),
  lastName: z.string().nullable(),
  email: z.string().nullable(),
  /** Null for runs that are about no order. */
  order: z
    .object({
      id: z.string(),
      number: z.string(),
      status: orderStatus,
      totalMinor: z.number(),
      currency: z.string(),
    })
    .nullable(),
  enteredAt: z.number(),
  status: z.enum(['inProgress', 'ended']),
  outcome: z.enum(['completed', 'left', 'retired', 'takenOut']).nullable(),
  dueAt: z.number().nullable(),
})
type RunRow = z.infer<typeof runRow>

const entryRow = z.object({
  id: z.number(),
  at: z.number(),
  kind: z.string(),
  entry: document<LedgerEntry>(),
  mailId: z.number().nullable(),
})
type EntryRow = z.infer<typeof entryRow>

/** One run with everything the ledger says of it, oldest first. Throws AppError `not_found`. */
export async function runPage(db: Db, shop: Shop, runId: number): Promise<RunResponse> {
  const [run] = await rowsOf(
    db,
    runRow,
    sql`select r.id, r.workflow_id as "workflowId", r.version, v.definition,
      r.customer_id as "customerId", c.first_name as "firstName", c.last_name as "lastName", c.email,
      case when o.id is not null then json_build_object('id', o.id, 'number', o.number,
        'status', o.status, 'totalMinor', o.total_minor, 'currency', o.currency) end as "order",
      r.entered_at as "enteredAt", r.status, r.outcome,
      r.parked_until as "dueAt"
    from runs r
    join workflow_versions v on v.shop_id = r.shop_id and v.workflow_id = r.workflow_id
      and v.version = r.version
    left join customers c on c.shop_id = r.shop_id and c.id = r.customer_id
    left join orders o on o.shop_id = r.shop_id and o.id = r.subject_id
    where r.shop_id = ${shop.id} and r.id = ${runId}`,
  )
  if (!run) throw new AppError('not_found', 'There is no such run.')
  const entries = await rowsOf(
    db,
    entryRow,
    sql`select l.id, l.at, l.kind, l.entry, mails.id as "mailId"
    from ledger l
    left join messages m on l.kind = 'sent' and m.shop_id = l.shop_id and m.run_id = l.run_id
      and m.step = l.entry->>'step'
    left join mails on mails.shop_id = m.shop_id and mails.message_id = m.message_id
    where l.shop_id = ${shop.id} and l.run_id = ${runId} order by l.id, mails.id`,
  )
  return {
    id: run.id,
    workflow: { id: run.workflowId, name: run.definition.name, version: run.version },
    customer: { id: run.customerId, name: fullName(run.firstName, run.lastName), email: run.email },
    order: run.order && orderOf(run.order, shop),
    enteredAt: run.enteredAt,
    status: run.status,
    outcome: run.outcome,
    dueAt: run.dueAt,
    lines: linesOf(entries, run.definition, await wordsFor(db, shop, entries.map(({ entry }) => entry))), // prettier-ignore
  }
}

function orderOf(order: NonNullable<RunRow['order']>, shop: Shop) {
  const { id, number, status, totalMinor: amountMinor, currency } = order
  const total = formatMoney({ amountMinor, currency }, shop.locale)
  return { id, number, total, status: ORDER_STATUSES[status] }
}

function linesOf(entries: readonly EntryRow[], definition: Definition, context: WordContext) {
  const seen = new Set<number>()
  return entries.flatMap(({ id, at, kind, entry, mailId }) => {
    // A mail that was handed over twice appears once; the mailbox shows both.
    if (seen.has(id)) return []
    seen.add(id)
    const step = 'step' in entry ? entry.step : null
    const words = entryWords(entry, definition, context)
    return [{ id, at, kind, reason: reasonOf(entry), words, step, mailId }]
  })
}
