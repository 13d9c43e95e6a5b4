import { drizzle, type NodePgDatabase, type NodePgTransaction } from 'drizzle-orm/node-postgres'
import type { ExtractTablesWithRelations, SQL } from 'drizzle-orm'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { z } from 'zod'

type NoSchema = Record<string, never>

/** A connection pool with drizzle on it. */
export interface Database extends NodePgDatabase {
  $client: pg.Pool
}
export type Transaction = NodePgTransaction<NoSchema, ExtractTablesWithRelations<NoSchema>>
/** What a query needs: the pool, or a transaction on one of its connections. */
export type Db = Database | Transaction

// Instants, ids and counts stay far below 2^53; as strings they would only invite mistakes.
pg.types.setTypeParser(pg.types.builtins.INT8, Number)

/** Whoever waits longer for a connection is told that the database is away. */
const CONNECT_TIMEOUT_MS = 20_000

/** Opens a pool of connections. Close it with `db.$client.end()`. */
export function openDatabase(
  url: string,
  { connections = 10 }: { connections?: number } = {},
): Database {
  const pool = new pg.Pool({
    connectionString: url,
    max: connections,
    connectionTimeoutMillis: CONNECT_TIMEOUT_MS,
  })
  // A connection that breaks is replaced by the pool, and the query on it fails with its own error;
  // without these listeners it would end the process.
  pool.on('error', () => undefined)
  pool.on('connect', (client) => client.on('error', () => undefined))
  return drizzle(pool)
}

/**
 * Runs a query and returns its rows, each checked to be what the caller reads. Throws ZodError where
 * the statement returns something else: a mistake in one of the two.
 */
export async function rowsOf<Row>(db: Db, row: z.ZodType<Row>, query: SQL): Promise<Row[]> {
  const result = await db.execute(query)
  return z.array(row).parse(result.rows)
}

/** A document of ours in a column: it was checked when it was written, and is not read twice over. */
export const document = <Kind>(): z.ZodType<Kind> => z.custom<Kind>((value) => value !== undefined)

/** An array as one parameter, for `= any(...)`. */
export function arrayOf(
  values: readonly (string | number)[],
  type: 'text' | 'bigint' | 'int',
): SQL {
  return sql`${sql.param(values)}::${sql.raw(type)}[]`
}

/** Rows as one parameter, for `jsonb_to_recordset(...)`: bulk inserts and updates in one statement. */
export function recordsOf(rows: readonly object[]): SQL {
  return sql`${JSON.stringify(rows)}::jsonb`
}

/** The pattern of `ilike` for a text that stands anywhere, with what ilike would act on taken as it is. */
export function containing(text: string): string {
  return `%${text.replaceAll(/[\\%_]/g, String.raw`\$&`)}%`
}
