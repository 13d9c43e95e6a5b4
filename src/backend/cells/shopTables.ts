import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../platform/db.ts'

/** A table with rows of single shops. */
export interface ShopTable {
  name: string
  /** The column that names the shop. */
  shop: string
  columns: string[]
  /** What counts its rows, where something does. */
  sequences: { column: string; name: string }[]
}

/** These stay where they are: who is signed in signs in anew, and the rest is about this cell. */
const STAY: ReadonlySet<string> = new Set(['sessions', 'account_links', 'shop_places', 'shop_fences', 'shop_rounds']) // prettier-ignore

const column = z.object({ table: z.string(), column: z.string(), sequence: z.string().nullable() })

/**
 * All tables with rows of single shops, as the database itself says: one that is added later is not forgotten. Shops come first, as
 * the rest is about them.
 */
export async function shopTables(db: Db): Promise<ShopTable[]> {
  const rows = await rowsOf(db, column, sql`
    select c.table_name as table, c.column_name as column,
      pg_get_serial_sequence(quote_ident(c.table_name), c.column_name) as sequence
    from information_schema.columns c join information_schema.tables t using (table_schema, table_name)
    where c.table_schema = 'public' and t.table_type = 'BASE TABLE' and c.is_generated = 'NEVER'
    order by c.table_name <> 'shops', c.table_name, c.ordinal_position`) // prettier-ignore
  const tables = new Map<string, ShopTable>()
  for (const { table, column: name, sequence } of rows) {
    const found = tables.get(table) ?? { name: table, shop: '', columns: [], sequences: [] }
    found.columns.push(name)
    if (sequence !== null) found.sequences.push({ column: name, name: sequence })
    if (name === 'shop_id' || (table === 'shops' && name === 'id')) found.shop = name
    tables.set(table, found)
  }
  return [...tables.values()].filter(({ name, shop }) => shop !== '' && !STAY.has(name))
}
