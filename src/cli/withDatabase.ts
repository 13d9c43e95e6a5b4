import { readConfig, type Config } from '../backend/platform/config.ts'
import { openDatabase, type Database } from '../backend/platform/db.ts'
import { MIGRATIONS } from '../backend/platform/migrationsFolder.ts'
import { databaseTrouble } from '../backend/platform/trouble.ts'
import { tableState } from '../backend/watch/index.ts'
import { CommandError } from './commandError.ts'
import { toError } from '../backend/platform/errors.ts'

/** Does something with the database of the configuration. Throws CommandError where it does not answer. */
export async function withDatabase<Result>(
  work: (db: Database, config: Config) => Promise<Result>,
): Promise<Result> {
  const config = readConfig(process.env)
  const db = openDatabase(config.DATABASE_URL, { connections: 4 })
  try {
    return await work(db, config)
  } catch (error) {
    if (databaseTrouble(error) !== 'away') throw error
    const { cause, message } = toError(error)
    throw new CommandError(`The database does not answer: ${cause instanceof Error ? cause.message : message}. “yomble check” says more.`) // prettier-ignore
  } finally {
    await db.$client.end()
  }
}

/** As `withDatabase`, once its tables are as this program knows them. Throws CommandError where they are not. */
export function withTables<Result>(
  work: (db: Database, config: Config) => Promise<Result>,
): Promise<Result> {
  return withDatabase(async (db, config) => {
    await refuseOldTables(db)
    return work(db, config)
  })
}

/** Throws CommandError where changes to the tables are outstanding. */
export async function refuseOldTables(db: Database): Promise<void> {
  const { pending } = await tableState(db, MIGRATIONS)
  if (pending.length === 0) return
  throw new CommandError(`The tables are not up to date: ${pending.length} changes wait. Run “yomble migrate”.`) // prettier-ignore
}
