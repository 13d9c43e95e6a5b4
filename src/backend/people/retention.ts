import { eq, sql } from 'drizzle-orm'
import { RETAINED, type Retained, type Retention } from '../../core/people/retention.ts'
import { DAY_MS } from '../../core/shared/duration.ts'
import type { Instant } from '../../core/shared/time.ts'
import type { Database, Db } from '../platform/db.ts'
import { forgetLedger } from '../runs/ledger.ts'
import { shops } from '../shop/tables.ts'

/** So many rows go in one statement, so that nobody waits for it. */
const AT_ONCE = 5000

/** How long a shop keeps what. */
export async function readRetention(db: Db, shopId: string): Promise<Retention> {
  const [row] = await db.select({ retention: shops.retention }).from(shops).where(eq(shops.id, shopId)) // prettier-ignore
  return row?.retention ?? {}
}

export async function saveRetention(db: Db, shopId: string, retention: Retention): Promise<void> {
  await db.update(shops).set({ retention }).where(eq(shops.id, shopId))
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
    const days = retention[kind]
    if (days === undefined || days === null) continue
    gone[kind] = await forgetAll((most) => FORGET[kind](db, shopId, now - days * DAY_MS, most))
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

const FORGET: Readonly<Record<Retained, Forget>> = {
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
} // prettier-ignore
