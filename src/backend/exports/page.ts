import type { SQL } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, type Db } from '../platform/db.ts'
import type { Shop } from '../shop/index.ts'

export type Place = readonly (string | number)[]

/** Some rows of a file, and behind which key the next begin; null where these were the last. */
export interface Page {
  rows: object[]
  after: Place | null
}

export type Read = (db: Db, shop: Shop, after: Place | null) => Promise<Page>

export const PAGE = 1000

const place = z.array(z.union([z.string(), z.number()]))
const keyOf = (row: Record<string, unknown>): unknown[] =>
  [row['key0'], row['key1']].filter((part) => part !== undefined)

const record = z.record(z.string(), z.unknown())

/**
 * A page made from a query that gives at most PAGE rows in the order of their key. The columns of the key are called `key0`,
 * `key1` and are not written.
 */
export async function pageOf(
  db: Db,
  query: SQL,
  write: (row: Record<string, unknown>) => object,
): Promise<Page> {
  const rows = await rowsOf(db, record, query)
  const last = rows.at(-1)
  const isOver = last === undefined || rows.length < PAGE
  return { rows: rows.map(write), after: isOver ? null : place.parse(keyOf(last)) }
}

/** A row without its key, with the columns named turned from milliseconds into RFC 3339. */
export function written(row: Record<string, unknown>, moments: readonly string[] = []): object {
  const { key0: _first, key1: _second, ...rest } = row
  for (const name of moments) {
    const at = rest[name]
    if (typeof at === 'number') rest[name] = new Date(at).toISOString()
  }
  return rest
}
