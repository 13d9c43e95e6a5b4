import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { doubtQueued } from '../../backend/messages/queue.ts'
import type { Config } from '../../backend/platform/config.ts'
import { rowsOf, type Database } from '../../backend/platform/db.ts'
import { readClock, shopIds } from '../../backend/shop/index.ts'
import { listWorkflows, pauseWorkflow } from '../../backend/workflows/index.ts'
import { CommandError } from '../commandError.ts'
import { countTables } from './counts.ts'
import { FILES, manifest, type Manifest } from './makeBackup.ts'
import { runPostgres } from './postgresTools.ts'

/** What came of a restore. */
export interface Restored {
  manifest: Manifest
  paused: number
  /** Messages that were about to leave when the backup was made, and may have left since. */
  doubtful: number
}

/**
 * Fills an empty database with a backup, and sees to it that nothing is sent twice: every live workflow is paused, and what was about
 * to leave waits for somebody to say whether it did. Throws CommandError where the database is not empty, or counts differ.
 */
export async function restoreBackup(
  db: Database,
  config: Config,
  folder: string,
): Promise<Restored> {
  const made = readManifest(folder)
  await refuseFilled(db)
  await runPostgres('pg_restore', config.DATABASE_URL, ['--no-owner', '--no-privileges', '--exit-on-error', join(folder, FILES.dump)]) // prettier-ignore
  const differing = differences(made.counts, await countTables(db))
  if (differing.length > 0) throw new CommandError(`The backup is not whole: ${differing.join('; ')}.`) // prettier-ignore
  await forgetWorkers(db)
  let [paused, doubtful] = [0, 0]
  for (const shopId of await shopIds(db)) {
    for (const { workflow } of await listWorkflows(db, shopId)) {
      if (workflow.state !== 'live') continue
      await pauseWorkflow(db, shopId, workflow.id)
      paused += 1
    }
    const { now } = await readClock(db, shopId)
    const error = `The database was restored as it was at ${made.madeAt}: it may have left since.`
    doubtful += await doubtQueued(db, shopId, { now, error })
  }
  return { manifest: made, paused, doubtful }
}

function readManifest(folder: string): Manifest {
  const file = join(folder, FILES.manifest)
  if (!existsSync(file)) throw new CommandError(`${folder} is no backup, or one that was broken off: it has no ${FILES.manifest}.`) // prettier-ignore
  const read = manifest.safeParse(JSON.parse(readFileSync(file, 'utf8')))
  if (!read.success) throw new CommandError(`${file} is of another Yomble.`)
  return read.data
}

async function refuseFilled(db: Database): Promise<void> {
  const [row] = await rowsOf(db, z.object({ tables: z.int() }), sql`
    select count(*) as tables from pg_tables where schemaname in ('public', 'drizzle', 'graphile_worker')`) // prettier-ignore
  if (row && row.tables > 0) throw new CommandError('This database has tables. A backup is restored into an empty one: createdb, and set DATABASE_URL to it.') // prettier-ignore
}

/** The workers of then are gone, and so are the connections that would tell. */
async function forgetWorkers(db: Database): Promise<void> {
  await db.execute(sql`update graphile_worker._private_jobs set locked_at = null, locked_by = null where locked_at is not null`) // prettier-ignore
  await db.execute(sql`update graphile_worker._private_job_queues set locked_at = null, locked_by = null where locked_at is not null`) // prettier-ignore
}

function differences(before: Record<string, number>, after: Record<string, number>): string[] {
  return Object.entries(before).flatMap(([table, count]) =>
    after[table] === count ? [] : [`${table} had ${count} rows and has ${after[table] ?? 'gone'}`],
  )
}
