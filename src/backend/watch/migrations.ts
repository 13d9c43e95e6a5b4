import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../platform/db.ts'

const journal = z.object({ entries: z.array(z.object({ when: z.int(), tag: z.string() })) })

/** How the tables of a database stand to what this program knows. */
export interface TableState {
  /** Changes that the program knows and the database has not had, by name. */
  pending: string[]
  /** True where the database has had changes that this program does not know: it was brought up to date by a newer one. */
  isNewer: boolean
}

/** Compares the database with the migrations in a folder. */
export async function tableState(db: Db, folder: string): Promise<TableState> {
  const { entries } = journal.parse(JSON.parse(readFileSync(join(folder, 'meta/_journal.json'), 'utf8'))) // prettier-ignore
  const last = await lastMigration(db)
  const newest = entries.at(-1)?.when ?? 0
  return {
    pending: entries.filter(({ when }) => when > last).map(({ tag }) => tag),
    isNewer: last > newest,
  }
}

/** When the last migration that a database has had was made; 0 for an empty one. */
async function lastMigration(db: Db): Promise<number> {
  const [known] = await rowsOf(db, z.object({ there: z.boolean() }), sql`
    select to_regclass('drizzle.__drizzle_migrations') is not null as there`) // prettier-ignore
  if (!known?.there) return 0
  const [row] = await rowsOf(db, z.object({ last: z.int().nullable() }), sql`
    select max(created_at) as last from drizzle.__drizzle_migrations`) // prettier-ignore
  return row?.last ?? 0
}
