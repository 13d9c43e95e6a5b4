import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../platform/db.ts'
import { realNow } from '../platform/realTime.ts'
import { installationNotes } from './tables.ts'

/** Notes that something was done with the installation just now. */
export async function noteInstallation(db: Db, kind: 'backup'): Promise<void> {
  const row = { kind, at: realNow() }
  await db
    .insert(installationNotes)
    .values(row)
    .onConflictDoUpdate({ target: installationNotes.kind, set: row })
}

const note = z.object({ kind: z.literal('backup'), at: z.int() })
const grown = z.object({ table: z.string(), rows: z.int(), bytes: z.int() })

/** When it was last backed up, in real time. */
export async function installationTimes(db: Db) {
  const rows = await rowsOf(db, note, sql`select kind, at::float8 as at from installation_notes`)
  return { backup: rows.find(({ kind }) => kind === 'backup')?.at ?? null }
}

/** The largest tables: about how many rows they have, and what they take with their indexes. */
export const largestTables = (db: Db, most = 8): Promise<z.infer<typeof grown>[]> =>
  rowsOf(db, grown, sql`
    select c.relname as table, greatest(c.reltuples, 0)::float8 as rows, pg_total_relation_size(c.oid)::float8 as bytes
    from pg_class c join pg_namespace n on n.oid = c.relnamespace
    where n.nspname = 'public' and c.relkind = 'r' order by 3 desc limit ${most}`) // prettier-ignore
