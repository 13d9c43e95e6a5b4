import { sql, type SQL } from 'drizzle-orm'
import { z } from 'zod'
import { personRow, type PeopleSort, type PersonRow } from '../../contract/people.ts'
import { arrayOf, containing, rowsOf, type Db } from '../platform/db.ts'
import { readJson } from '../platform/readJson.ts'
import type { Shop } from '../shop/index.ts'

/** People in the order of a list: by a value, and where it is the same by their id. */
interface Order {
  value: SQL
  type: 'text' | 'bigint'
  down: boolean
}

/** What an order counts for: what was paid in the shop's currency. */
const spentIn = (currency: string): SQL => sql`coalesce(sum(total_minor) filter (
  where currency = ${currency} and status not in ('cancelled', 'refunded')), 0)::bigint`

const ofOrders = (figure: SQL): SQL =>
  sql`coalesce((select ${figure} from orders where shop_id = c.shop_id and customer_id = c.id), 0)`

const ordersOf = (currency: string): Readonly<Record<PeopleSort, Order>> => ({
  orders: { value: ofOrders(sql`count(*)`), type: 'bigint', down: true },
  spent: { value: ofOrders(spentIn(currency)), type: 'bigint', down: true },
  lastOrder: { value: sql`coalesce(c.last_order_at, 0)`, type: 'bigint', down: true },
  since: { value: sql`coalesce(c.created_at, 0)`, type: 'bigint', down: true },
  name: {
    value: sql`lower(coalesce(nullif(concat_ws(' ', c.last_name, c.first_name), ''), c.email, c.id))`,
    type: 'text',
    down: false,
  },
})

const place = z.tuple([z.union([z.string(), z.number()]), z.string()])
export type Place = z.infer<typeof place>

/** Reads where a page begins; null for the first. Throws AppError `bad_input` for what no page has said. */
export function readPlace(text: string | null): Place | null {
  return text === null ? null : readJson(place, Buffer.from(text, 'base64url').toString(), 'after')
}

export const writePlace = (at: Place): string =>
  Buffer.from(JSON.stringify(at)).toString('base64url')

const listedRow = z.object({ id: z.string(), value: z.union([z.string(), z.number()]) })
export interface ListedPerson {
  id: string
  place: Place
}

/** The ids of those a search is about, in the order of the list, from a place on. */
export async function listedPeople(
  db: Db,
  shop: Pick<Shop, 'id' | 'currency'>,
  { search, sort, after, limit }: { search: string; sort: PeopleSort; after: Place | null; limit: number },
): Promise<ListedPerson[]> {
  const { value, type, down } = ordersOf(shop.currency)[sort]
  const direction = sql.raw(down ? 'desc' : 'asc')
  const parts = [sql`c.shop_id = ${shop.id}`]
  if (search !== '') parts.push(found(shop.id, search))
  if (after) {
    const [last, id] = after
    parts.push(sql`(${value}, c.id) ${sql.raw(down ? '<' : '>')} (${last}::${sql.raw(type)}, ${id})`)
  }
  const rows = await rowsOf(
    db,
    listedRow,
    sql`select c.id, ${value} as value from customers c where ${sql.join(parts, sql` and `)}
    order by 2 ${direction}, c.id ${direction} limit ${limit}`,
  )
  return rows.map(({ id, value: at }) => ({ id, place: [at, id] }))
} // prettier-ignore

/** Those of a name, address, phone number or order number that has such a part. */
export function found(shopId: string, search: string): SQL {
  const digits = search.replace(/[\s()/.-]/g, '').replace(/^(\+|0+)/, '')
  const phone = /^\d{4,}$/.test(digits) ? sql`or search ilike ${containing(digits)}` : sql``
  // Each by its own index; asked with “or”, everybody would be looked at.
  return sql`c.id in (
    select id from customers where shop_id = ${shopId} and (search ilike ${containing(search)} ${phone})
    union all select ${search}
    union all select customer_id from orders where shop_id = ${shopId} and number ilike ${containing(search)})`
}

/** Some people as lists show them, in the order of their ids as given. */
export async function personRows(
  db: Db,
  shop: Pick<Shop, 'id' | 'currency'>,
  ids: readonly string[],
): Promise<PersonRow[]> {
  const rows = await rowsOf(
    db,
    personRow,
    sql`select c.id, concat_ws(' ', c.first_name, c.last_name) as name, c.email, c.phone, c.country,
      c.may_email as "mayEmail", c.may_text as "mayText", c.created_at as "createdAt",
      c.last_order_at as "lastOrderAt", o.orders, o.spent as "spentMinor", ${TAGS} as tags, c.lists
    from customers c
    left join lateral (
      select count(*)::int as orders, ${spentIn(shop.currency)} as spent
      from orders where shop_id = c.shop_id and customer_id = c.id) o on true
    where c.shop_id = ${shop.id} and c.id = any(${arrayOf(ids, 'text')})`,
  )
  const byId = new Map(rows.map((row) => [row.id, row]))
  return ids.flatMap((id) => byId.get(id) ?? [])
}

/** A customer's tags: the shop's own, with what workflows and people added and removed. */
export const TAGS = sql`(select coalesce(jsonb_agg(t order by t), '[]'::jsonb) from (
  select jsonb_array_elements_text(c.tags) as t
  union select key from jsonb_each(c.tag_changes) where value = 'true') as all_tags
  where coalesce((c.tag_changes->>t)::boolean, true))`

/** How many people a shop knows. */
export async function countPeople(db: Db, shopId: string): Promise<number> {
  const [row] = await rowsOf(db, z.object({ count: z.int() }), sql`select count(*) from customers where shop_id = ${shopId}`) // prettier-ignore
  return row?.count ?? 0
}

/** The ids of so many people a search is about, drawn by lot, and the same ones each time. */
export async function drawnPeople(
  db: Db,
  shopId: string,
  { search, most }: { search: string; most: number },
): Promise<string[]> {
  const rows = await rowsOf(
    db,
    z.object({ id: z.string() }),
    sql`select c.id from customers c where c.shop_id = ${shopId}
      ${search === '' ? sql`` : sql`and ${found(shopId, search)}`}
    order by hashtextextended(c.id, 0), c.id limit ${most}`,
  )
  return rows.map(({ id }) => id)
}
