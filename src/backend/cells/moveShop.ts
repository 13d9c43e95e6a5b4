import { setTimeout as pause } from 'node:timers/promises'
import { eq, sql } from 'drizzle-orm'
import type { PoolClient } from 'pg'
import { z } from 'zod'
import { arrayOf, rowsOf, type Database, type Transaction } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { realNow } from '../platform/realTime.ts'
import { MOVING_CODE } from '../platform/trouble.ts'
import { wakeWorkers } from '../platform/workers.ts'
import { findShop } from '../shop/index.ts'
import { shops } from '../shop/tables.ts'
import { copyShop } from './copyShop.ts'
import { cellOf, placeShop } from './directory.ts'
import { liftFence, liftOldFences, raiseFence } from './fence.ts'
import { isCode } from './isCode.ts'
import { shopTables, type ShopTable } from './shopTables.ts'

/** The databases of an installation by the names of their cells; `home` is one of them. */
export type Cells = ReadonlyMap<string, Database>

/** So long the move waits for what is being handed over to come to its end. */
const CALM_WITHIN_MS = 60_000
const LOOK_EVERY_MS = 100

/**
 * Moves a shop to another cell with all that belongs to it. It can be read meanwhile; whoever wants to change something is told to try again in a
 * moment, from the fence on until the copy is there. When it is broken off, the shop goes on where it was; a move that was killed is taken up
 * by moving again. Returns how many rows of each table went. Throws AppError `not_found`, `bad_input`, or `busy` where the shop does not come to rest.
 */
export async function moveShop(cells: Cells, home: Database, shopId: string, to: string): Promise<Map<string, number>> {
  const from = await cellOf(home, shopId)
  const [source, target] = [databaseOf(cells, from), databaseOf(cells, to)]
  const tables = await shopTables(source)
  refuseOtherTables(tables, await shopTables(target))
  if (from === to) {
    // It is there; what a move that was killed has left elsewhere goes.
    for (const [name, db] of cells) if (name !== to) await removeShop(db, shopId, tables)
    return new Map()
  }
  await findShop(source, shopId)
  let counts: Map<string, number>
  try {
    await source.update(shops).set({ movingSince: realNow() }).where(eq(shops.id, shopId)).catch(unlessFenced)
    await untilCalm(source, shopId)
    await raiseFence(source, shopId, tables)
    counts = await copyTo({ source, target }, shopId, tables)
  } catch (error) {
    await goOn(source, shopId, tables)
    throw error
  }
  await placeShop(home, shopId, to)
  await removeShop(source, shopId, tables)
  await wakeWorkers(target)
  return counts
} // prettier-ignore

function databaseOf(cells: Cells, name: string): Database {
  const db = cells.get(name)
  if (!db) throw new AppError('bad_input', `There is no cell “${name}”. There are: ${[...cells.keys()].join(', ')}.`)
  return db
} // prettier-ignore

function refuseOtherTables(here: readonly ShopTable[], there: readonly ShopTable[]): void {
  const named = (tables: readonly ShopTable[]) => JSON.stringify(tables.map(({ name, columns }) => [name, columns.toSorted()])) // prettier-ignore
  if (named(here) === named(there)) return
  throw new AppError('bad_input', 'The tables of the two cells are not the same. Run “yomble migrate” for both.') // prettier-ignore
}

/** A move that was killed behind its fence is taken up: the mark is there already, and cannot be written. */
async function unlessFenced(error: unknown): Promise<void> {
  if (!isCode(error, MOVING_CODE)) throw error
}

/** Resolves when nothing of the shop is being handed over and no job of it is at work. No more are begun, since it is marked as moving. */
async function untilCalm(db: Database, shopId: string): Promise<void> {
  const until = performance.now() + CALM_WITHIN_MS
  for (;;) {
    const { rows } = await db.execute(sql`
      select 1 where exists (select from messages where shop_id = ${shopId} and status = 'handingOver')
        or exists (select from graphile_worker._private_jobs where locked_at is not null and payload->>'shopId' = ${shopId})`) // prettier-ignore
    if (rows.length === 0) return
    if (performance.now() > until) {
      throw new AppError('busy', 'Something of this shop is still being sent. Look whether its messages are stuck, and move it later.') // prettier-ignore
    }
    await pause(LOOK_EVERY_MS)
  }
}

/** Copies everything in one transaction of the target: all of it is there, or nothing. */
async function copyTo({ source, target }: { source: Database; target: Database }, shopId: string, tables: readonly ShopTable[]): Promise<Map<string, number>> {
  // What an earlier move that was killed has left.
  await removeShop(target, shopId, tables)
  await liftFence(target, shopId, tables)
  const [from, to] = await Promise.all([source.$client.connect(), target.$client.connect()])
  let broken: Error | undefined
  try {
    await to.query('begin')
    const counts = await copyShop({ from, to }, shopId, tables)
    await copyJobs(from, to, shopId)
    await to.query('update shops set moving_since = null where id = $1', [shopId])
    await to.query('commit')
    return counts
  } catch (error) {
    broken = error instanceof Error ? error : new Error(String(error))
    throw error
  } finally {
    // A connection in the middle of something is not used again.
    from.release(broken)
    to.release(broken)
  }
} // prettier-ignore

async function copyJobs(from: PoolClient, to: PoolClient, shopId: string): Promise<void> {
  const { rows } = await from.query<object>(
    `select t.identifier, j.payload, j.run_at, j.max_attempts from graphile_worker._private_jobs j join graphile_worker._private_tasks t on t.id = j.task_id
     where j.payload->>'shopId' = $1 order by j.run_at, j.id`,
    [shopId],
  )
  await to.query(`select graphile_worker.add_jobs(array(select json_populate_record(null::graphile_worker.job_spec, spec) from json_array_elements($1) as spec)) limit 1`, [JSON.stringify(rows)]) // prettier-ignore
}

/** The shop goes on where it was. */
async function goOn(db: Database, shopId: string, tables: readonly ShopTable[]): Promise<void> {
  await liftFence(db, shopId, tables)
  await db.update(shops).set({ movingSince: null }).where(eq(shops.id, shopId))
  await wakeWorkers(db)
}

/** Removes all rows of a shop from a cell in which it does not live; a fence that stands goes on standing. */
async function removeShop(db: Database, shopId: string, tables: readonly ShopTable[]): Promise<void> {
  await db.transaction(async (tx) => {
    // What is on record goes with its shop, and in no other way.
    await tx.execute(sql`select set_config('yomble.removes_shop', ${shopId}, true)`)
    await tx.execute(sql`delete from graphile_worker._private_jobs where payload->>'shopId' = ${shopId}`)
    for (const table of ['sessions', 'account_links', 'shop_rounds']) await removeRows(tx, table, 'shop_id', shopId) // prettier-ignore
    const people = await rowsOf(tx, z.object({ id: z.string() }), sql`select id from users where shop_id = ${shopId}`) // prettier-ignore
    for (const { name, shop } of tables.toReversed()) await removeRows(tx, name, shop, shopId)
    // Who works in no other shop of this cell has no account here any more.
    await tx.execute(sql`delete from accounts a where a.id = any(${arrayOf(people.map(({ id }) => id), 'text')}) and not exists (select from users u where u.id = a.id)`)
  })
  await liftOldFences(db, tables)
} // prettier-ignore

const removeRows = (tx: Transaction, table: string, column: string, shopId: string) =>
  tx.execute(sql`delete from ${sql.identifier(table)} where ${sql.identifier(column)} = ${shopId}`)
