import { setTimeout as pause } from 'node:timers/promises'
import { eq, lt, sql, type SQL } from 'drizzle-orm'
import { HOUR_MS } from '../../core/shared/duration.ts'
import type { Database, Transaction } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { MOVING_CODE } from '../platform/trouble.ts'
import { isCode } from './isCode.ts'
import type { ShopTable } from './shopTables.ts'
import { shopFences } from './tables.ts'

/** Whoever began to work on a shop before it was moved has long ended. */
const STANDS_FOR_MS = HOUR_MS
/** So long a change to a table waits for those who are writing, while others wait behind it; then they go first, and it is tried again. */
const LOCK_TIMEOUT = '1s'
const LOCK_NOT_AVAILABLE = '55P03'
const TRIES = 200
const LONGEST_PAUSE_MS = 100

/**
 * Once it stands nothing of a shop can be written in this cell: every statement that tries fails as a whole, wherever it comes from, and what was
 * written before is there. It goes up table by table, each in a transaction of its own: nobody who holds one table and waits for another is
 * ever in its way. Throws AppError `busy` where others write all the time.
 */
export async function raiseFence(db: Database, shopId: string, tables: readonly ShopTable[]): Promise<void> {
  await db.insert(shopFences).values({ shopId, since: realNow() }).onConflictDoNothing()
  await db.execute(sql`
    create or replace function yomble_fence() returns trigger language plpgsql as $$
    begin
      if tg_op = 'DELETE' and current_setting('yomble.removes_shop', true) = tg_argv[0] then return old; end if;
      raise exception 'shop % is being moved, or has been', tg_argv[0] using errcode = ${sql.raw(`'${MOVING_CODE}'`)};
    end $$`)
  for (const table of tables) {
    await givingWay(db, async (tx) => {
      await tx.execute(fenceOf(table, shopId, { suffix: 'in', at: 'insert or update', row: 'new' }))
      await tx.execute(fenceOf(table, shopId, { suffix: 'out', at: 'delete', row: 'old' }))
    })
  }
} // prettier-ignore

function fenceOf(
  { name, shop }: ShopTable,
  shopId: string,
  { suffix, at, row }: { suffix: string; at: string; row: string },
): SQL {
  // In the definition of a trigger there can be no parameter.
  const id = `'${shopId.replaceAll("'", "''")}'`
  return sql.raw(`create or replace trigger "${nameOf(shopId, suffix)}" before ${at} on "${name}" for each row when (${row}."${shop}" = ${id}) execute function yomble_fence(${id})`) // prettier-ignore
}

/** Takes a fence away, where there is one. */
export async function liftFence(db: Database, shopId: string, tables: readonly ShopTable[]): Promise<void> {
  const [standing] = await db.select().from(shopFences).where(eq(shopFences.shopId, shopId))
  if (!standing) return
  for (const { name } of tables) {
    await givingWay(db, async (tx) => {
      for (const suffix of ['in', 'out']) {
        await tx.execute(sql`drop trigger if exists ${sql.identifier(nameOf(shopId, suffix))} on ${sql.identifier(name)}`)
      }
    })
  }
  await db.delete(shopFences).where(eq(shopFences.shopId, shopId))
} // prettier-ignore

/** Takes away fences of shops that left so long ago that nobody can be at work on them here any more. */
export async function liftOldFences(db: Database, tables: readonly ShopTable[]): Promise<void> {
  const old = await db
    .select({ shopId: shopFences.shopId })
    .from(shopFences)
    .where(lt(shopFences.since, realNow() - STANDS_FOR_MS))
  for (const { shopId } of old) await liftFence(db, shopId, tables)
}

async function givingWay(db: Database, work: (tx: Transaction) => Promise<void>): Promise<void> {
  for (let tries = 1; ; tries += 1) {
    try {
      return await db.transaction(async (tx) => {
        await tx.execute(sql.raw(`set local lock_timeout = '${LOCK_TIMEOUT}'`))
        await work(tx)
      })
    } catch (error) {
      if (!isCode(error, LOCK_NOT_AVAILABLE)) throw error
      if (tries === TRIES) throw new AppError('busy', 'The tables are written to all the time. Move the shop at a quieter hour.') // prettier-ignore
    }
    await pause(LONGEST_PAUSE_MS * Math.random())
  }
}

const nameOf = (shopId: string, suffix: string): string => `yomble_fence_${suffix}_${shopId}`
