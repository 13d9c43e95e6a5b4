import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { rowsOf, openDatabase, type Database } from '../../backend/platform/db.ts'
import { toError } from '../../backend/platform/errors.ts'
import { MIGRATIONS } from '../../backend/platform/migrationsFolder.ts'
import { realNow } from '../../backend/platform/realTime.ts'
import { tableState, workState } from '../../backend/watch/index.ts'
import { ok, stops, warns, type Finding } from './findings.ts'

const facts = z.object({
  version: z.int(),
  encoding: z.string(),
  connections: z.int(),
  mayCreate: z.boolean(),
  hasTrigrams: z.boolean(),
  isReplica: z.boolean(),
  now: z.number(),
})

/** A server has ten connections and some for reports, a worker ten, and PostgreSQL keeps a few for itself. */
const LEAST_CONNECTIONS = 40
const CLOCKS_APART_MS = 5000

/** Whether the database answers, is one that Yomble can use, and has its tables. */
export async function checkDatabase(url: string): Promise<Finding[]> {
  const db = openDatabase(url, { connections: 2 })
  try {
    const asked = realNow()
    const [found] = await rowsOf(db, facts, sql`
      select current_setting('server_version_num')::int / 10000 as version, pg_encoding_to_char(encoding) as encoding,
        current_setting('max_connections')::int as connections,
        has_database_privilege(current_database(), 'create') and has_schema_privilege('public', 'create') as "mayCreate",
        exists (select from pg_available_extensions where name = 'pg_trgm') as "hasTrigrams",
        pg_is_in_recovery() as "isReplica", (extract(epoch from clock_timestamp()) * 1000)::float8 as now
      from pg_database where datname = current_database()`) // prettier-ignore
    if (!found) return []
    const findings = checkFacts(found, Math.abs(found.now - (asked + realNow()) / 2))
    // Who may make none may look at none, either.
    return found.mayCreate ? [...findings, ...(await checkTables(db))] : findings
  } catch (error) {
    return [readRefusal(error)]
  } finally {
    await db.$client.end()
  }
}

function checkFacts(found: z.infer<typeof facts>, apartMs: number): Finding[] {
  const findings: Finding[] = [ok('database', `PostgreSQL ${found.version} answers.`)]
  if (found.version < 14) findings.push(stops('database-old', `This is PostgreSQL ${found.version}; 14 is the least.`, 'Use a newer one.'))
  if (found.encoding !== 'UTF8') findings.push(stops('database-encoding', `The database is encoded in ${found.encoding}: names of people would be refused.`, 'Make it anew: createdb --encoding=UTF8 --template=template0 yomble'))
  if (!found.mayCreate) findings.push(stops('database-rights', 'The user of DATABASE_URL may not make tables.', 'Make it the owner: alter database yomble owner to yomble; alter schema public owner to yomble'))
  if (!found.hasTrigrams) findings.push(stops('trigrams-missing', 'PostgreSQL’s extension pg_trgm is not installed, by which people are searched.', 'apt-get install postgresql-contrib'))
  if (found.isReplica) findings.push(stops('database-read-only', 'This is a standby: nothing can be written to it.', 'Set DATABASE_URL to the primary.'))
  if (found.connections < LEAST_CONNECTIONS) findings.push(warns('connections-few', `PostgreSQL takes ${found.connections} connections; a server and a worker want about 25.`, `Set max_connections to ${LEAST_CONNECTIONS} or more.`))
  if (apartMs > CLOCKS_APART_MS) findings.push(warns('clocks-apart', `The clocks of this machine and of the database are ${Math.round(apartMs / 1000)} s apart.`, 'Let both go by NTP.'))
  return findings
} // prettier-ignore

async function checkTables(db: Database): Promise<Finding[]> {
  const { pending, isNewer } = await tableState(db, MIGRATIONS)
  if (isNewer) return [stops('tables-newer', 'The tables are those of a newer Yomble.', 'Run that one, or restore a backup from before.')] // prettier-ignore
  if (pending.length > 0) return [stops('tables-old', `${pending.length} changes to the tables wait.`, 'yomble migrate')] // prettier-ignore
  const { shops, workers, queueAgeS } = await workState(db)
  const findings: Finding[] = [ok('tables', 'The tables are up to date.')]
  if (shops === 0)
    findings.push(warns('no-shop', 'There is no shop yet.', 'yomble shop create --help'))
  if (shops > 0 && workers === 0) findings.push(warns('no-worker', 'No worker is at work: nothing is decided or sent.', 'yomble worker, or yomble all')) // prettier-ignore
  if (queueAgeS > 900) findings.push(warns('queue-late', `What waits longest has waited ${Math.round(queueAgeS / 60)} minutes.`, 'Look at the log of the workers; start more.')) // prettier-ignore
  return findings
}

const REFUSALS: Readonly<Record<string, readonly [says: string, mend: string]>> = {
  '28P01': ['refuses the password', 'Correct the password in DATABASE_URL; write signs like @ or / as %40, %2F.'],
  '28000': ['does not let this user in from here', 'Add a line for it to pg_hba.conf.'],
  '3D000': ['has no such database', 'createdb --encoding=UTF8 yomble'],
  ECONNREFUSED: ['is not running, or listens elsewhere', 'Start PostgreSQL, or correct host and port in DATABASE_URL.'],
  ENOTFOUND: ['cannot be found: its name is not known', 'Correct the host in DATABASE_URL.'],
  '53300': ['has no connection left', 'Raise max_connections.'],
} // prettier-ignore

function readRefusal(error: unknown): Finding {
  const { cause, message } = toError(error)
  const reason = cause instanceof Error ? cause : error
  const code = reason instanceof Error && 'code' in reason ? String(reason.code) : ''
  const known = REFUSALS[code]
  const why = known?.[0] ?? `does not answer: ${reason instanceof Error ? reason.message : message}`
  return stops(`database-${code.toLowerCase() || 'away'}`, `The database ${why}.`, known?.[1] ?? 'Look at DATABASE_URL and the log of PostgreSQL.') // prettier-ignore
}
