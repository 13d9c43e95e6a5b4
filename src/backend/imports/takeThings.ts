import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import type { FileRow, RowProblem } from '../../core/imports/toEvents.ts'
import { arrayOf, recordsOf, rowsOf, type Transaction } from '../platform/db.ts'
import { takePast } from '../shop/index.ts'
import type { Thing } from './things.ts'

/** What became of some things. */
export interface Taken {
  taken: number
  known: number
  refused: { row: FileRow; problems: RowProblem[] }[]
}

type Good = Extract<Thing, { ok: true }>

const refusal = ({ rows }: { rows: FileRow[] }, message: string, at: string | null = null) =>
  rows.map((row) => ({ row, problems: [{ place: row.place, at, message }] }))

/**
 * Takes in what rows of a file tell, in the caller's transaction; what stood there before is kept, so that it can be undone. Events are stored at
 * once; what they tell of is written when `othersAreDone`, since things before these may be about the same people and products.
 */
export async function takeThings(
  tx: Transaction,
  shopId: string,
  importId: string,
  things: readonly Thing[],
  othersAreDone: () => Promise<unknown> = async () => undefined,
): Promise<Taken> {
  const refused = things.flatMap((thing) => thing.ok ? [] : thing.rows.map((row) => ({ row, problems: thing.problems.filter(({ place }) => place === row.place || thing.rows.length === 1) })))
  const good = things.filter((thing): thing is Good => thing.ok)
  const events = await takeEvents(tx, shopId, importId, good, othersAreDone)
  await othersAreDone()
  const products = await takeProducts(tx, shopId, importId, good)
  const suppressed = await takeSuppressions(tx, shopId, importId, good)
  const parts = [events, products, suppressed]
  return {
    taken: parts.reduce((sum, { taken }) => sum + taken, 0),
    known: parts.reduce((sum, { known }) => sum + known, 0),
    refused: [...refused, ...parts.flatMap((part) => part.refused)],
  }
} // prettier-ignore

async function takeEvents(
  tx: Transaction,
  shopId: string,
  importId: string,
  good: readonly Good[],
  othersAreDone: () => Promise<unknown>,
): Promise<Taken> {
  const told = good.flatMap((thing) => (thing.made.kind === 'event' ? [{ thing, event: thing.made.event }] : []))
  if (told.length === 0) return { taken: 0, known: 0, refused: [] }
  const known = await knownOrders(tx, shopId, told.flatMap(({ event }) => orderIn(event) ?? []))
  const fresh = told.filter(({ event }) => !known.has(orderIn(event) ?? ''))
  const keepAll = async () => {
    await othersAreDone()
    await keepBefore(tx, shopId, importId, 'customers', fresh.flatMap(({ event }) => customerIn(event) ?? []))
    await keepBefore(tx, shopId, importId, 'orders', fresh.flatMap(({ event }) => orderIn(event) ?? []))
    await keepBefore(tx, shopId, importId, 'subscriptions', fresh.flatMap(({ event }) => subscriptionIn(event) ?? []))
    await keepBefore(tx, shopId, importId, 'products', fresh.flatMap(({ event }) => productsIn(event)))
  }
  const first = fresh.flatMap(({ thing }) => thing.read[0] ?? [])
  // How an order stands now goes along: it is told only of one that is new, and refused for the same reasons.
  const standing = fresh.flatMap(({ thing }) => thing.read.slice(1))
  const receipts = (await takePast(tx, shopId, [...first, ...standing], keepAll)).slice(0, first.length)
  const refused = receipts.flatMap((receipt, index) => {
    const thing = fresh[index]?.thing
    if (!thing) return []
    if (receipt.status === 'erased') return refusal(thing, 'is about somebody who was erased')
    if (receipt.status !== 'refused') return []
    const [problem] = receipt.problems
    return refusal(thing, `${problem?.path.replace(/^data\./, '') ?? ''} ${problem?.message ?? ''}`.trim())
  })
  const taken = receipts.filter(({ status }) => status === 'accepted').length
  return { taken, known: known.size + receipts.filter(({ status }) => status === 'duplicate').length, refused }
} // prettier-ignore

interface Data {
  order?: { id: string; customerId: string; lines: { productId: string }[] }
  subscription?: { id: string; customerId: string }
  customer?: { id: string }
  consent?: { customerId: string }
}
const dataOf = (event: object): Data => (event as { data: Data }).data
const orderIn = (event: object): string | null => dataOf(event).order?.id ?? null
const subscriptionIn = (event: object): string | null => dataOf(event).subscription?.id ?? null
const productsIn = (event: object): string[] =>
  (dataOf(event).order?.lines ?? []).map(({ productId }) => productId)
const customerIn = (event: object): string | null => {
  const { order, subscription, customer, consent } = dataOf(event)
  return (
    order?.customerId ?? subscription?.customerId ?? consent?.customerId ?? customer?.id ?? null
  )
}

/** Orders that the shop has told of already: told again they would be counted twice. */
async function knownOrders(
  tx: Transaction,
  shopId: string,
  ids: readonly string[],
): Promise<Set<string>> {
  if (ids.length === 0) return new Set()
  const rows = await rowsOf(tx, z.object({ id: z.string() }), sql`select id from orders
    where shop_id = ${shopId} and placed_at is not null and id = any(${arrayOf(ids, 'text')})`)
  return new Set(rows.map(({ id }) => id))
} // prettier-ignore

const KEYS: Readonly<Record<string, SQL>> = {
  customers: sql`id`,
  orders: sql`id`,
  subscriptions: sql`id`,
  products: sql`id`,
  dead_addresses: sql`address`,
}

/**
 * Keeps what stands at some places before it is written over; null where there is nothing, but for orders: of those that are new
 * the events tell. The first time counts.
 */
async function keepBefore(
  tx: Transaction,
  shopId: string,
  importId: string,
  table: string,
  ids: readonly string[],
): Promise<void> {
  if (ids.length === 0) return
  const key = KEYS[table] ?? sql`id`
  await tx.execute(sql`
    insert into import_before (shop_id, import_id, "of", id, before)
    select ${shopId}, ${importId}, ${table}, w.id,
      -- By its key, one by one: of a table that has just grown the planner knows nothing.
      (select to_jsonb(t) from ${sql.raw(table)} t where t.shop_id = ${shopId} and t.${key} = w.id)
    from unnest(${arrayOf([...new Set(ids)], 'text')}) as w(id)
    where not exists (select from import_before b
        where b.shop_id = ${shopId} and b.import_id = ${importId} and b."of" = ${table} and b.id = w.id)
      ${table === 'orders' ? sql`and exists (select from orders o where o.shop_id = ${shopId} and o.id = w.id)` : sql``}
    on conflict do nothing`)
}

async function takeProducts(
  tx: Transaction,
  shopId: string,
  importId: string,
  good: readonly Good[],
): Promise<Taken> {
  const products = good.flatMap(({ made }) => (made.kind === 'product' ? [made.product] : []))
  if (products.length === 0) return { taken: 0, known: 0, refused: [] }
  await keepBefore(tx, shopId, importId, 'products', products.map((one) => String(one['id'])))
  const [shop] = await rowsOf(tx, z.object({ currency: z.string() }), sql`select currency from shops where id = ${shopId}`)
  const records = products.map((one) => ({ ...one, currency: one['currency'] ?? shop?.currency }))
  const changed = await tx.execute(sql`
    insert into products as known (shop_id, id, title, category, price_minor, currency, url, image_url, in_stock, as_of)
    select distinct on (p.id) ${shopId}, p.id, p.title, p.category, p.price, p.currency, p.url, p."imageUrl", coalesce(p."inStock", true), 0
    from jsonb_to_recordset(${recordsOf(records)}) as p(id text, title text, category text, price bigint,
      currency text, url text, "imageUrl" text, "inStock" boolean)
    on conflict (shop_id, id) do update set title = excluded.title, category = coalesce(excluded.category, known.category),
      price_minor = excluded.price_minor, currency = excluded.currency, url = coalesce(excluded.url, known.url),
      image_url = coalesce(excluded.image_url, known.image_url), in_stock = excluded.in_stock
    where (known.title, known.category, known.price_minor, known.url, known.image_url, known.in_stock) is distinct from
      (excluded.title, coalesce(excluded.category, known.category), excluded.price_minor, coalesce(excluded.url, known.url),
      coalesce(excluded.image_url, known.image_url), excluded.in_stock)`)
  const taken = changed.rowCount ?? 0
  return { taken, known: products.length - taken, refused: [] }
} // prettier-ignore

async function takeSuppressions(
  tx: Transaction,
  shopId: string,
  importId: string,
  good: readonly Good[],
): Promise<Taken> {
  const told = good.flatMap(({ made }) => (made.kind === 'suppression' ? [made.told] : []))
  if (told.length === 0) return { taken: 0, known: 0, refused: [] }
  const records = told.map((one) => ({ address: String(one['email']).toLowerCase(), at: one['at'] ?? 0 }))
  await keepBefore(tx, shopId, importId, 'dead_addresses', records.map(({ address }) => address))
  const added = await tx.execute(sql`
    insert into dead_addresses (shop_id, address, since)
    select distinct on (r.address) ${shopId}, r.address, r.at
    from jsonb_to_recordset(${recordsOf(records)}) as r(address text, at bigint)
    on conflict do nothing`)
  const taken = added.rowCount ?? 0
  return { taken, known: told.length - taken, refused: [] }
} // prettier-ignore
