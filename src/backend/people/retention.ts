import { eq, sql } from 'drizzle-orm'
import { z } from 'zod'
import {
  RETAINED,
  USUALLY_KEPT,
  type Retained,
  type Retention,
} from '../../core/people/retention.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import { forgetBodies } from '../connections/index.ts'
import { forgetRefusedRows, tidyImports } from '../imports/index.ts'
import { rowsOf, type Database, type Db } from '../platform/db.ts'
import { forgetLedger } from '../runs/ledger.ts'
import { forgetRefused } from '../shop/index.ts'
import { shops } from '../shop/tables.ts'
import { erasePerson } from './erasure/erase.ts'

/** So many rows go in one statement, so that nobody waits for it. */
const AT_ONCE = 5000
/** So many people are erased in one go: each is a transaction that looks through many tables. */
const MOST_ERASED = 200

/** How long a shop keeps what. */
export async function readRetention(db: Db, shopId: string): Promise<Retention> {
  const [row] = await db.select({ retention: shops.retention }).from(shops).where(eq(shops.id, shopId)) // prettier-ignore
  return row?.retention ?? {}
}

export async function saveRetention(db: Db, shopId: string, retention: Retention): Promise<void> {
  await db.update(shops).set({ retention, retainedAt: null }).where(eq(shops.id, shopId))
}

/** Throws away, once a day and as soon as terms have changed, what a shop keeps no longer. What is left over comes next time. */
export async function forgetDaily(db: Database, shopId: string, now: Instant): Promise<void> {
  const [shop] = await db.select({ at: shops.retainedAt }).from(shops).where(eq(shops.id, shopId))
  if (!shop || (shop.at !== null && now - shop.at < DAY_MS)) return
  await tidyImports(db, shopId, now)
  const { people = 0 } = await forgetOld(db, shopId, now)
  if (people < MOST_ERASED) {
    await db.update(shops).set({ retainedAt: now }).where(eq(shops.id, shopId))
  }
}

/** Throws away what a shop keeps no longer, in small steps. Returns how much of each went. */
export async function forgetOld(
  db: Database,
  shopId: string,
  now: Instant,
): Promise<Partial<Record<Retained, number>>> {
  const retention = await readRetention(db, shopId)
  const gone: Partial<Record<Retained, number>> = {}
  for (const kind of RETAINED) {
    const days = retention[kind] ?? USUALLY_KEPT[kind]
    if (days === undefined) continue
    const before = now - days * DAY_MS
    gone[kind] =
      kind === 'people'
        ? await forgetPeople(db, shopId, before)
        : await forgetAll((most) => FORGET[kind](db, shopId, before, most))
  }
  return gone
}

async function forgetAll(forget: (most: number) => Promise<number>): Promise<number> {
  let all = 0
  for (;;) {
    const count = await forget(AT_ONCE)
    all += count
    if (count < AT_ONCE) return all
  }
}

type Forget = (db: Db, shopId: string, before: Instant, most: number) => Promise<number>

const FORGET: Readonly<Record<Exclude<Retained, 'people'>, Forget>> = {
  visits: async (db, shopId, before, most) => {
    const gone = await db.execute(sql`delete from events e using (
        select seq from events where shop_id = ${shopId} and time < ${before}
          and type in ('product.viewed', 'basket.item_added', 'message.opened', 'message.clicked', 'message.delivered')
        limit ${most}) old
      where e.shop_id = ${shopId} and e.seq = old.seq`)
    return gone.rowCount ?? 0
  },
  mails: async (db, shopId, before, most) => {
    const gone = await db.execute(sql`delete from mails m using (
        select id from mails where shop_id = ${shopId} and date < ${before} limit ${most}) old
      where m.shop_id = ${shopId} and m.id = old.id`)
    return gone.rowCount ?? 0
  },
  ledger: forgetLedger,
  arrivals: async (db, shopId, before, most) =>
    (await forgetBodies(db, shopId, before, most)) + (await forgetRefused(db, shopId, before, most)),
  files: forgetRefusedRows,
} // prettier-ignore

/** Erases people of whom nothing was told since, who are in no workflow and have no subscription that goes on. Returns how many. */
async function forgetPeople(db: Database, shopId: string, before: Instant): Promise<number> {
  const rows = await rowsOf(
    db,
    z.object({ id: z.string() }),
    sql`select c.id from customers c
      where c.shop_id = ${shopId} and coalesce(c.created_at, 0) < ${before} and coalesce(c.last_order_at, 0) < ${before}
        and not exists (select from events e where e.shop_id = c.shop_id and e.customer_id = c.id and e.time >= ${before})
        and not exists (select from runs r where r.shop_id = c.shop_id and r.customer_id = c.id and r.status = 'inProgress')
        and not exists (select from subscriptions s where s.shop_id = c.shop_id and s.customer_id = c.id and s.status in ('trial', 'running', 'paused'))
      limit ${MOST_ERASED}`,
  )
  for (const { id } of rows) await erasePerson(db, shopId, id, TERM)
  return rows.length
}

/** By whom they were erased, as the ledger says it. */
const TERM = 'The term of keeping'
