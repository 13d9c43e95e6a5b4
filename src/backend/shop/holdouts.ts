import { eq } from 'drizzle-orm'
import type { ShopHoldout } from '../../core/events/facts.ts'
import type { Database, Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { readClock } from './clock.ts'
import { shops, type KeptHoldout } from './tables.ts'

/** The holdout that goes on; null where there is none. */
export function currentHoldout(holdouts: readonly KeptHoldout[]): ShopHoldout | null {
  const last = holdouts.at(-1)
  return last && last.until === null
    ? {
        percent: last.percent,
        since: last.since,
        ...(last.list !== undefined && { list: last.list }),
      }
    : null
}

/**
 * Holds so many in a hundred people, of all or of those on a list, out of all marketing from now on; null for nobody. Another share or list is another
 * holdout with a draw of its own; what the one before it showed stays readable.
 */
export function saveHoldout(
  db: Database,
  shopId: string,
  wanted: Pick<ShopHoldout, 'percent' | 'list'> | null,
): Promise<void> {
  return db.transaction(async (tx) => {
    const [shop] = await tx
      .select({ holdouts: shops.holdouts })
      .from(shops)
      .where(eq(shops.id, shopId))
      .for('update')
    if (!shop) throw new AppError('not_found', 'There is no such shop.')
    const current = currentHoldout(shop.holdouts)
    if (current?.percent === wanted?.percent && current?.list === wanted?.list) return
    const { now } = await readClock(tx, shopId)
    const holdouts = shop.holdouts.map((one) => (one.until === null ? { ...one, until: now } : one))
    if (wanted) holdouts.push({ ...wanted, since: now, until: null })
    await tx.update(shops).set({ holdouts }).where(eq(shops.id, shopId))
  })
}

/** All holdouts of a shop, the newest first. */
export async function listHoldouts(db: Db, shopId: string): Promise<KeptHoldout[]> {
  const [shop] = await db
    .select({ holdouts: shops.holdouts })
    .from(shops)
    .where(eq(shops.id, shopId))
  return shop?.holdouts.toReversed() ?? []
}
