import { randomUUID } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { arrayOf, rowsOf, type Database, type Db } from '../../backend/platform/db.ts'
import { AppError } from '../../backend/platform/errors.ts'
import { findShop, readClock, lockCustomers } from '../../backend/shop/index.ts'
import { isPerLine } from '../../core/workflow/trigger.ts'
import { enterAll, factRequest, type Candidate, type EntryCount } from './enter.ts'
import { loadFacts } from './facts/index.ts'
import { liveWorkflows } from './liveWorkflows.ts'
import type { Programs } from './programs.ts'

/** Whom to put into a workflow: orders by their number, or customers by their address or id. */
export interface Chosen {
  names: readonly string[]
  person: string
  /** Without regard to how often one person may enter. The ledger says so. */
  override: boolean
}

/**
 * Puts chosen orders or customers into a live workflow; its filter and exclusions hold for them as for
 * all. Throws AppError `conflict` when the workflow is not live or takes neither, `bad_input` with the
 * names that nobody is known by.
 */
export async function enterByHand(
  db: Database,
  programs: Programs,
  shopId: string,
  workflowId: string,
  { names, person, override }: Chosen,
): Promise<EntryCount> {
  const shop = await findShop(db, shopId)
  return db.transaction(async (tx) => {
    const [workflow] = await liveWorkflows(
      tx,
      programs,
      shopId,
      (_program, id) => id === workflowId,
    )
    if (!workflow) throw new AppError('conflict', 'People can be put into live workflows only.')
    const { now } = await readClock(tx, shopId)
    const { subject, definition } = workflow.program
    const found = await findAll(tx, shopId, subject, names)
    const batch = randomUUID()
    const candidates = found.map(({ customerId, subjectId }, index): Candidate => ({
      workflow,
      idempotencyKey: `hand:${batch}:${index}`,
      at: now,
      cause: { by: 'hand', person, overridden: override },
      customerId,
      subjectId,
      line: isPerLine(definition.trigger) && definition.trigger.kind === 'date' ? 0 : null,
      eventSeq: null,
    }))
    await lockCustomers(
      tx,
      shopId,
      candidates.map(({ customerId }) => customerId),
    )
    const source = await loadFacts(tx, shop, candidates.map(factRequest), now)
    return enterAll(tx, shop, now, candidates, source)
  })
}

const foundRow = z.object({
  name: z.string(),
  customerId: z.string(),
  subjectId: z.string().nullable(),
})
type Found = z.infer<typeof foundRow>

async function findAll(
  db: Db,
  shopId: string,
  subject: string,
  names: readonly string[],
): Promise<Found[]> {
  const wanted = [...new Set(names.map((name) => name.trim()).filter((name) => name !== ''))]
  const list = arrayOf(wanted, 'text')
  const found =
    subject === 'order'
      ? sql`select number as name, customer_id as "customerId", id as "subjectId" from orders
          where shop_id = ${shopId} and number = any(${list})`
      : subject === 'customer'
        ? sql`select distinct on (w.name) w.name, c.id as "customerId", null::text as "subjectId"
          from unnest(${list}) as w(name)
          join customers c on c.shop_id = ${shopId} and (c.id = w.name or lower(c.email) = lower(w.name))
          order by w.name, c.as_of desc`
        : sql`select id as name, customer_id as "customerId", id as "subjectId" from subscriptions
          where shop_id = ${shopId} and ${subject} = 'subscription' and id = any(${list})`
  const rows = await rowsOf(db, foundRow, found)
  const known = new Set(rows.map(({ name }) => name))
  const unknown = wanted.filter((name) => !known.has(name))
  if (unknown.length === 0 && wanted.length > 0) return rows
  const problems = unknown.map((name) => ({ path: name, message: `nothing is known of ${name}` }))
  const what = subject === 'order' ? 'Order numbers' : 'Addresses or ids'
  throw new AppError('bad_input', `${what} are needed that the shop knows.`, problems)
}
