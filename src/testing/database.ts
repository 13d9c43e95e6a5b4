import { randomBytes } from 'node:crypto'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import { migrateDatabase, openDatabase } from '../backend/platform/db.ts'
import { migrateJobs } from '../backend/platform/jobs.ts'

export const MIGRATIONS = fileURLToPath(new URL('../../migrations', import.meta.url))
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

/** A fresh, migrated database; returns its address. */
export async function makeDatabase(): Promise<string> {
  const name = `yomble_test_${randomBytes(6).toString('hex')}`
  await asAdmin(`create database ${name} template ${TEMPLATE}`)
  return urlOf(name)
}

/** Removes a database that `makeDatabase` made. */
export async function dropDatabase(url: string): Promise<void> {
  await asAdmin(`drop database if exists ${new URL(url).pathname.slice(1)} with (force)`)
}
