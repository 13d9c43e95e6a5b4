import { randomBytes } from 'node:crypto'
import pg from 'pg'
import { openDatabase } from '../backend/platform/db.ts'
import { migrateJobs } from '../backend/platform/jobs.ts'
import { migrateDatabase } from '../backend/platform/migrate.ts'
import { MIGRATIONS } from '../backend/platform/migrationsFolder.ts'

const TEMPLATE = 'yomble_template'

/** The address of the server that tests make their databases on. */
function serverUrl(): string {
  const url = process.env['TEST_DATABASE_URL']
  if (!url) throw new Error('TEST_DATABASE_URL is not set; run the tests with `npm test`')
  return url
}

function urlOf(database: string): string {
  const url = new URL(serverUrl())
  url.pathname = `/${database}`
  return url.href
}

async function asAdmin(statement: string): Promise<void> {
  const client = new pg.Client({ connectionString: serverUrl() })
  await client.connect()
  try {
    await client.query(statement)
  } finally {
    await client.end()
  }
}

/** Makes the migrated, empty database that every test's own is copied from. */
export async function makeTemplate(): Promise<void> {
  await asAdmin(`drop database if exists ${TEMPLATE} with (force)`)
  await asAdmin(`create database ${TEMPLATE}`)
  const db = openDatabase(urlOf(TEMPLATE))
  await migrateDatabase(db, MIGRATIONS)
  await migrateJobs(db)
  await db.$client.end()
}

/** A database without a table; returns its address. It goes with the server of the tests. */
export async function emptyDatabase(): Promise<string> {
  const name = `yomble_test_${randomBytes(6).toString('hex')}`
  await asAdmin(`create database ${name} encoding UTF8 template template0`)
  return urlOf(name)
}

/** Databases that tests are done with. */
const free: string[] = []

/** A migrated database with nothing in it; returns its address. Hand it back with `freeDatabase`. */
export async function makeDatabase(): Promise<string> {
  const url = free.pop()
  // A test may have a server of its own, which goes with it.
  if (url !== undefined && new URL(url).host === new URL(serverUrl()).host) {
    await empty(url)
    return url
  }
  const name = `yomble_test_${randomBytes(6).toString('hex')}`
  await asAdmin(`create database ${name} template ${TEMPLATE}`)
  return urlOf(name)
}

/**
 * Hands back a database that `makeDatabase` made, for the next test of this process: emptying one takes
 * 3 ms, making one 130. The server goes with the tests, and so do they.
 */
export function freeDatabase(url: string): void {
  free.push(url)
}

/** Removes a database that `makeDatabase` made: for what fills it with so much that emptying takes longer. */
export async function dropDatabase(url: string): Promise<void> {
  await asAdmin(`drop database if exists ${new URL(url).pathname.slice(1)} with (force)`)
}

async function empty(url: string): Promise<void> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    const { rows } = await client.query<{ statement: string }>(
      `select format('delete from %I.%I', schemaname, tablename) as statement from pg_tables
        where schemaname in ('public', 'graphile_worker') and tablename <> 'migrations'
      union all
      select format('select setval(%L, 1, false)', schemaname || '.' || sequencename) from pg_sequences
        where schemaname in ('public', 'graphile_worker')`,
    )
    // In any order: what refers to what is gone with it.
    const statements = [
      'set session_replication_role = replica',
      ...rows.map(({ statement }) => statement),
    ]
    await client.query(statements.join(';'))
  } finally {
    await client.end()
  }
}
