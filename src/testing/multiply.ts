import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Database } from '../backend/platform/db.ts'

/** What has a row for each customer, or for each thing that happened to one: so many times as much of it makes a large shop. */
const GROWING = ['customers', 'orders', 'order_lines', 'carts', 'subscriptions', 'reviews', 'expected_reorders', 'events', 'runs', 'ledger', 'messages', 'coupons', 'mails'] as const // prettier-ignore
const COUNTED = ['result_days', 'sending_days', 'kept_figures'] as const
const WORKFLOWS = ['workflows', 'workflow_versions', 'workflow_states'] as const
/** Further runs, events and messages are so far from the demo’s own, and from one another. */
const STRIDE = 10_000_000

/** Where each column of a copy differs from what it is copied from; `k` is the copy’s number. */
const COPIED: Readonly<Record<string, string>> = {
  customer_id: `customer_id || '~' || k`,
  subject_id: `subject_id || '~' || k`,
  order_id: `order_id || '~' || k`,
  event_id: `event_id || '~' || k`,
  idempotency_key: `idempotency_key || '~' || k`,
  message_id: `k || '.' || message_id`,
  code: `code || k`,
  number: `number || '-' || k`,
  to_address: `k || '.' || to_address`,
  email: `k || '.' || email`,
  last_name: `last_name || ' ' || to_hex(k * 7919)`,
  run_id: `run_id + k::bigint * ${STRIDE}`,
  event_seq: `event_seq + k::bigint * ${STRIDE}`,
  seq: `seq + k::bigint * ${STRIDE}`,
}
/** Ids that are texts, as the shop gave them; all others are counted by us. */
const TEXT_IDS = new Set(['customers', 'orders', 'carts', 'subscriptions', 'reviews'])

/** Makes a shop so many times as large: as many people like each of its own, with all that happened to them, over `workflows` times its workflows. */
export async function multiply(
  db: Database,
  {
    shopId,
    times,
    workflows,
    piece = PIECE,
  }: { shopId: string; times: number; workflows: number; piece?: number },
  say: (text: string) => void,
): Promise<void> {
  const withWorkflow = `case when workflow_id is null or k % ${workflows} = 0 then workflow_id else workflow_id || '~' || k % ${workflows} end`
  // What was counted is of the shop as it was.
  for (const table of COUNTED) await db.execute(sql.raw(`delete from ${table} where shop_id = '${shopId}'`)) // prettier-ignore
  for (const table of WORKFLOWS) {
    await copyRows(db, table, { shopId, piece, upTo: workflows - 1, over: { [table === 'workflows' ? 'id' : 'workflow_id']: `${table === 'workflows' ? 'id' : 'workflow_id'} || '~' || k`, place: `place + k * 1000` } }) // prettier-ignore
  }
  for (const table of GROWING) {
    const began = performance.now()
    const id = TEXT_IDS.has(table) ? `id || '~' || k` : `id + k::bigint * ${STRIDE}`
    await copyRows(db, table, { shopId, piece, upTo: times - 1, over: { ...COPIED, id, workflow_id: withWorkflow } }) // prettier-ignore
    say(`${table}: ${Math.round((performance.now() - began) / 1000)} s`)
  }
}

async function copyRows(
  db: Database,
  table: string,
  {
    shopId,
    piece,
    upTo,
    over,
  }: { shopId: string; piece: number; upTo: number; over: Readonly<Record<string, string>> },
): Promise<void> {
  const columns = await rowsOf(db, z.object({ name: z.string() }), sql`
    select column_name as name from information_schema.columns
    where table_schema = 'public' and table_name = ${table} and is_generated = 'NEVER' order by ordinal_position`) // prettier-ignore
  const names = columns.map(({ name }) => `"${name}"`).join(', ')
  const values = columns.map(({ name }) => over[name] ?? `"${name}"`).join(', ')
  // A piece at a time, so that no transaction holds millions of rows.
  for (let from = 1; from <= upTo; from += piece) {
    const until = Math.min(upTo, from + piece - 1)
    await db.execute(
      sql.raw(
        `insert into "${table}" (${names}) overriding system value
        select ${values} from "${table}" cross join generate_series(${from}, ${until}) k
        where shop_id = '${shopId}' and ${ORIGINALS[table] ?? (TEXT_IDS.has(table) ? `strpos(id, '~') = 0` : `id < ${STRIDE}`)}`,
      ),
    )
  }
}

const PIECE = 5
/** Which rows are the shop’s own, and no copies. */
const ORIGINALS: Readonly<Record<string, string>> = {
  workflows: `strpos(id, '~') = 0`,
  workflow_versions: `strpos(workflow_id, '~') = 0`,
  workflow_states: `strpos(workflow_id, '~') = 0`,
  order_lines: `strpos(order_id, '~') = 0`,
  expected_reorders: `strpos(customer_id, '~') = 0`,
  events: `seq < ${STRIDE}`,
  coupons: `run_id < ${STRIDE}`,
}
