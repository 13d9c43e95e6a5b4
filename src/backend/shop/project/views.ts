import { sql } from 'drizzle-orm'
import { recordsOf, type Db } from '../../platform/db.ts'
import type { TimedEvent } from './timedEvent.ts'

/** What a look at a product tells of it: where it is, how it looks, whether it can be bought. */
export async function projectViews(db: Db, shopId: string, events: TimedEvent[]): Promise<void> {
  const newest = new Map<string, object>()
  for (const { event, at } of events) {
    if (!('product' in event.data)) continue
    const { productId, url, imageUrl, inStock } = event.data.product
    newest.set(productId, { ...newest.get(productId), id: productId, at, ...known({ url, imageUrl, inStock }) }) // prettier-ignore
  }
  if (newest.size === 0) return
  // Products are made by what is ordered, which alone tells their price.
  // Locked in the order of their ids, so that two batches do not wait for each other.
  await db.execute(sql`
    with recorded as (select * from jsonb_to_recordset(${recordsOf([...newest.values()])}) as r(id text,
        at bigint, url text, "imageUrl" text, "inStock" boolean)),
      locked as (select id from products
        where shop_id = ${shopId} and id in (select id from recorded) order by id for update)
    update products as p set url = coalesce(t.url, p.url),
      image_url = coalesce(t."imageUrl", p.image_url),
      in_stock = coalesce(t."inStock", p.in_stock), detail_as_of = t.at
    from recorded t join locked using (id)
    where p.shop_id = ${shopId} and p.id = t.id and p.detail_as_of <= t.at`)
}

/** Only what is told. */
function known(recorded: Record<string, unknown>): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(recorded).filter(([, value]) => value !== null && value !== undefined),
  )
}
