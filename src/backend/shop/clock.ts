import { eq, sql } from 'drizzle-orm'
import type { Instant } from '../../core/shared/time.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { wakeWorkers } from '../platform/workers.ts'
import { shops } from './tables.ts'

/** The time a shop goes by. */
export interface ShopClock {
  now: Instant
  /** True when it stands still until somebody moves it. */
  movedByHand: boolean
  /** Where it is on its way to, or null. */
  target: Instant | null
}

/** Reads the shop clock. Throws AppError `not_found` for no such shop. */
export async function readClock(db: Db, shopId: string): Promise<ShopClock> {
  const [shop] = await db
    .select({ now: shops.clockNow, target: shops.clockTarget })
    .from(shops)
    .where(eq(shops.id, shopId))
  if (!shop) throw new AppError('not_found', 'There is no such shop.')
  return { now: shop.now ?? realNow(), movedByHand: shop.now !== null, target: shop.target }
}

/**
 * Asks for the clock to be moved to `target`. The worker takes it there moment by moment, so that
 * all that falls due in between happens in order. Throws AppError `conflict` for a clock that goes
 * by real time, or a target in the past.
 */
export async function requestClockMove(db: Db, shopId: string, target: Instant): Promise<void> {
  const clock = await readClock(db, shopId)
  if (!clock.movedByHand) {
    throw new AppError('conflict', 'This shop goes by real time; its clock cannot be moved.')
  }
  if (target <= clock.now) {
    throw new AppError('conflict', 'The shop clock moves forward only. Choose a later time.')
  }
  await db.update(shops).set({ clockTarget: target }).where(eq(shops.id, shopId))
  await wakeWorkers(db)
}

/** Makes a clock that is on its way stop where it is. */
export async function stopClock(db: Db, shopId: string): Promise<void> {
  await db.update(shops).set({ clockTarget: null }).where(eq(shops.id, shopId))
}

/** Puts the clock at a moment on its way to its target; the target is cleared once reached. */
export async function setClock(db: Db, shopId: string, now: Instant): Promise<void> {
  await db
    .update(shops)
    .set({
      clockNow: now,
      clockTarget: sql`case when ${shops.clockTarget} <= ${now} then null else ${shops.clockTarget} end`,
    })
    .where(eq(shops.id, shopId))
}

/**
 * The time for something that happens by hand, a second after the last such thing where the clock
 * stands still: two events at one instant would have no order.
 */
export async function tickClock(db: Db, shopId: string): Promise<Instant> {
  const [moved] = await db
    .update(shops)
    .set({ clockNow: sql`${shops.clockNow} + 1000` })
    .where(sql`${shops.id} = ${shopId} and ${shops.clockNow} is not null`)
    .returning({ now: shops.clockNow })
  return moved?.now ?? realNow()
}
