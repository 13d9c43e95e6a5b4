import { eq, sql } from 'drizzle-orm'
import { z } from 'zod'
import { expectReorder, ownGaps } from '../../core/reorder/expect.ts'
import type { ReorderInterval, ReorderIntervals } from '../../core/reorder/interval.ts'
import type { ExpectedReorder } from '../../core/events/reorder.ts'
import { arrayOf, document, recordsOf, rowsOf, type Db } from '../platform/db.ts'
import { shops } from '../shop/tables.ts'

/** Everything one person has bought of a product in orders that stand, the oldest first. */
const ownPurchases = z.object({
  customerId: z.string(),
  productId: z.string(),
  category: z.string().nullable(),
  times: z.array(z.number()),
  orderId: z.string(),
  line: z.int(),
})
type OwnPurchases = z.infer<typeof ownPurchases>

const intervalRow = z.object({
  kind: z.enum(['product', 'category']),
  key: z.string(),
  interval: document<ReorderInterval>(),
})

/** The intervals of a shop as they were last reckoned. */
export async function loadIntervals(db: Db, shopId: string): Promise<ReorderIntervals> {
  const rows = await rowsOf(
    db,
    intervalRow,
    sql`select kind, key, interval from reorder_intervals where shop_id = ${shopId}`,
  )
  return intervalsFrom(rows)
}

function intervalsFrom(rows: readonly z.infer<typeof intervalRow>[]): ReorderIntervals {
  const of = (kind: string): Map<string, ReorderInterval> =>
    new Map(rows.filter((row) => row.kind === kind).map(({ key, interval }) => [key, interval]))
  return { products: of('product'), categories: of('category') }
}

/**
 * Brings the days on which people are expected to buy again up to what has just become of some orders. What was
 * bought once more is expected anew; a day that was reckoned for the last purchase stays as it is, whatever is
 * reckoned for others since, so that nothing starts twice.
 */
export async function expectReorders(
  db: Db,
  shopId: string,
  orderIds: readonly string[],
): Promise<void> {
  const intervals = intervalsFrom(await intervalsFor(db, shopId, orderIds))
  if (intervals.products.size === 0 && intervals.categories.size === 0) return
  const own = await rowsOf(
    db,
    ownPurchases,
    sql`with touched as (
      select distinct o.customer_id, l.product_id from orders o
      join order_lines l on l.shop_id = o.shop_id and l.order_id = o.id
      where o.shop_id = ${shopId} and o.id = any(${arrayOf(orderIds, 'text')})
    ),
    gone as (
      delete from expected_reorders e using touched t
      where e.shop_id = ${shopId} and e.customer_id = t.customer_id and e.product_id = t.product_id
        and not exists (select 1 from orders o join order_lines l on l.shop_id = o.shop_id and l.order_id = o.id
          where o.shop_id = ${shopId} and o.customer_id = t.customer_id and l.product_id = t.product_id
            and o.placed_at is not null and o.status not in ('cancelled', 'refunded'))
    )
    select o.customer_id as "customerId", l.product_id as "productId",
      (array_agg(l.category order by o.placed_at desc))[1] as category,
      jsonb_agg(o.placed_at order by o.placed_at) as times,
      (array_agg(o.id order by o.placed_at desc, o.id, l.position))[1] as "orderId",
      (array_agg(l.position order by o.placed_at desc, o.id, l.position))[1] as line
    from touched t
    join orders o on o.shop_id = ${shopId} and o.customer_id = t.customer_id
    join order_lines l on l.shop_id = o.shop_id and l.order_id = o.id and l.product_id = t.product_id
    where o.placed_at is not null and o.status not in ('cancelled', 'refunded')
    group by o.customer_id, l.product_id`,
  )
  await keepExpected(db, shopId, own, { intervals, zone: await zoneOfShop(db, shopId) })
}

function intervalsFor(db: Db, shopId: string, orderIds: readonly string[]) {
  return rowsOf(
    db,
    intervalRow,
    sql`select i.kind, i.key, i.interval from reorder_intervals i where i.shop_id = ${shopId}
      and exists (select 1 from order_lines l where l.shop_id = i.shop_id
        and l.order_id = any(${arrayOf(orderIds, 'text')})
        and i.key = case i.kind when 'product' then l.product_id else l.category end)`,
  )
}

/** So many people and products are asked for at once. */
const CHUNK = 5000

/**
 * Reckons the days for all that was bought last and has none yet: what was bought before anything was known of its
 * product. Returns how many there are now that were not before.
 */
export async function expectMissing(
  db: Db,
  shopId: string,
  intervals: ReorderIntervals,
  since: number,
): Promise<number> {
  const zone = await zoneOfShop(db, shopId)
  const own = await rowsOf(
    db,
    ownPurchases,
    sql`with bought as (
      select o.customer_id, l.product_id, l.category, o.placed_at, o.id, l.position from orders o
      join order_lines l on l.shop_id = o.shop_id and l.order_id = o.id
      where o.shop_id = ${shopId} and o.placed_at is not null and o.status not in ('cancelled', 'refunded')
        and (l.product_id = any(${arrayOf([...intervals.products.keys()], 'text')})
          or l.category = any(${arrayOf([...intervals.categories.keys()], 'text')}))
    )
    select customer_id as "customerId", product_id as "productId",
      (array_agg(category order by placed_at desc))[1] as category,
      jsonb_agg(placed_at order by placed_at) as times,
      (array_agg(id order by placed_at desc, id, position))[1] as "orderId",
      (array_agg(position order by placed_at desc, id, position))[1] as line
    from bought b
    where not exists (select 1 from expected_reorders e where e.shop_id = ${shopId}
      and e.customer_id = b.customer_id and e.product_id = b.product_id)
    group by customer_id, product_id having max(placed_at) > ${since}`,
  )
  for (let from = 0; from < own.length; from += CHUNK) {
    await keepExpected(db, shopId, own.slice(from, from + CHUNK), { intervals, zone })
  }
  return own.length
}

async function keepExpected(
  db: Db,
  shopId: string,
  own: readonly OwnPurchases[],
  { intervals, zone }: { intervals: ReorderIntervals; zone: string },
): Promise<void> {
  const records = own.flatMap((purchases) => {
    const expected = expectedOf(purchases, intervals, zone)
    return expected ? [{ ...purchases, times: undefined, expected, expectedAt: expected.at }] : []
  })
  if (records.length === 0) return
  await db.execute(sql`
    insert into expected_reorders as known
      (shop_id, customer_id, product_id, order_id, line, expected_at, expected)
    select ${shopId}, e."customerId", e."productId", e."orderId", e.line, e."expectedAt", e.expected
    from jsonb_to_recordset(${recordsOf(records)}) as e("customerId" text, "productId" text,
      "orderId" text, line int, "expectedAt" bigint, expected jsonb)
    on conflict (shop_id, customer_id, product_id) do update set
      order_id = excluded.order_id, line = excluded.line,
      expected_at = case when known.order_id = excluded.order_id then known.expected_at
        else excluded.expected_at end,
      expected = case when known.order_id = excluded.order_id then known.expected
        else excluded.expected end`)
}

function expectedOf(
  { productId, category, times }: OwnPurchases,
  intervals: ReorderIntervals,
  zone: string,
): ExpectedReorder | null {
  const at = times.at(-1) ?? 0
  return expectReorder(intervals, { productId, category }, { at, gapsBefore: ownGaps(times), zone })
}

async function zoneOfShop(db: Db, shopId: string): Promise<string> {
  const [shop] = await db.select({ zone: shops.zone }).from(shops).where(eq(shops.id, shopId))
  if (!shop) throw new RangeError(`There is no shop ${shopId}`)
  return shop.zone
}
