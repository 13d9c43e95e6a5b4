import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../../backend/platform/db.ts'

/** How many rows each table has, the queue's and the list of migrations included, by name. */
export async function countTables(db: Db): Promise<Record<string, number>> {
  const tables = await rowsOf(db, z.object({ name: z.string() }), sql`
    select quote_ident(schemaname) || '.' || quote_ident(tablename) as name from pg_tables
    where schemaname in ('public', 'drizzle', 'graphile_worker') order by 1`) // prettier-ignore
  const counts: Record<string, number> = {}
  for (const { name } of tables) {
    const [row] = await rowsOf(db, z.object({ count: z.int() }), sql`select count(*) from ${sql.raw(name)}`) // prettier-ignore
    counts[name] = row?.count ?? 0
  }
  return counts
}
