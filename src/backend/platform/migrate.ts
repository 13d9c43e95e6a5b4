import { setTimeout as pause } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import { readMigrationFiles } from 'drizzle-orm/migrator'
import { z } from 'zod'
import { rowsOf, type Database, type Transaction } from './db.ts'

/**
 * So long a change waits for a table that others are using: less than PostgreSQL waits before it looks for a deadlock and ends one
 * of the two, which may be a server's request.
 */
const LOCK_TIMEOUT = '500ms'
const TRIES = 60
/** Lock not available, deadlock detected. */
const IN_THE_WAY: ReadonlySet<string> = new Set(['55P03', '40P01'])
const PAUSE_MS = 200

type Migration = ReturnType<typeof readMigrationFiles>[number]

/**
 * Brings the tables up to date, while servers of the version before go on with them: each change is a transaction of its own, and
 * gives way to whoever uses what it needs, to try again. What is done is noted where drizzle-kit notes it. Two who do so at once
 * take turns. Throws whatever a change ran into; those before it stay.
 */
export async function migrateDatabase(db: Database, folder: string): Promise<void> {
  await db.transaction(async (tx) => {
    await takeTurn(tx)
    await tx.execute(sql`create schema if not exists drizzle`)
    await tx.execute(sql`create table if not exists drizzle.__drizzle_migrations (id serial primary key, hash text not null, created_at bigint)`) // prettier-ignore
  })
  for (const migration of readMigrationFiles({ migrationsFolder: folder })) await takeIn(db, migration) // prettier-ignore
}

async function takeIn(db: Database, migration: Migration): Promise<void> {
  for (let tries = 1; ; tries += 1) {
    try {
      await db.transaction((tx) => runOnce(tx, migration))
      return
    } catch (error) {
      if (tries === TRIES || !IN_THE_WAY.has(codeOf(error))) throw error
      await pause(PAUSE_MS)
    }
  }
}

async function runOnce(tx: Transaction, { folderMillis, hash, sql: statements }: Migration) {
  await takeTurn(tx)
  const newest = z.object({ at: z.coerce.number().nullable() })
  const [last] = await rowsOf(tx, newest, sql`select max(created_at) as at from drizzle.__drizzle_migrations`) // prettier-ignore
  if ((last?.at ?? 0) >= folderMillis) return
  await tx.execute(sql.raw(`set local lock_timeout = '${LOCK_TIMEOUT}'`))
  for (const statement of statements) await tx.execute(sql.raw(statement))
  await tx.execute(sql`insert into drizzle.__drizzle_migrations (hash, created_at) values (${hash}, ${folderMillis})`) // prettier-ignore
}

const takeTurn = (tx: Transaction) =>
  tx.execute(sql`select pg_advisory_xact_lock(hashtextextended('migrations', 0))`)

/** What PostgreSQL calls an error; drizzle hands it on as its cause. */
function codeOf(error: unknown): string {
  const { code, cause } = error as { code?: unknown; cause?: { code?: unknown } }
  const said = code ?? cause?.code
  return typeof said === 'string' ? said : ''
}
