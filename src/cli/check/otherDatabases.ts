import { sql } from 'drizzle-orm'
import type { Config } from '../../backend/platform/config.ts'
import { openDatabase } from '../../backend/platform/db.ts'
import { toError } from '../../backend/platform/errors.ts'
import { checkDatabase } from './database.ts'
import { ok, warns, type Finding } from './findings.ts'

/** The databases beside that of DATABASE_URL: further cells, and the standby. */
export async function checkOtherDatabases({ CELLS, STANDBY_URL }: Config): Promise<Finding[]> {
  const cells = Object.entries(CELLS).map(async ([name, url]) =>
    (await checkDatabase(url)).map((finding) => ({
      ...finding,
      code: `cell-${name}-${finding.code}`,
      says: `Cell ${name}: ${finding.says}`,
    })),
  )
  const standby = STANDBY_URL === undefined ? [] : [checkStandby(STANDBY_URL)]
  return (await Promise.all([...cells, ...standby])).flat()
}

/** Reports are read from the primary where the standby is none, or away: that is worth knowing. */
async function checkStandby(url: string): Promise<Finding[]> {
  const db = openDatabase(url, { connections: 1 })
  try {
    const { rows } = await db.execute<{ follows: boolean }>(sql`select pg_is_in_recovery() as follows`)
    if (rows[0]?.follows) return [ok('standby', 'The standby answers, and follows.')]
    return [warns('standby-none', 'STANDBY_URL leads to a database that follows none, so nothing is read from it.', 'Set it to a hot standby of DATABASE_URL, or leave it out.')]
  } catch (error) {
    const { cause, message } = toError(error)
    return [warns('standby-away', `The standby does not answer: ${cause instanceof Error ? cause.message : message}. Reports are read from the primary.`, 'Start it, or leave STANDBY_URL out.')]
  } finally {
    await db.$client.end()
  }
} // prettier-ignore
