import { readConfig, type Config } from '../backend/platform/config.ts'
import { cellConfigs, HOME, openCells, type Cells } from '../backend/cells/index.ts'
import type { Database } from '../backend/platform/db.ts'
import { MIGRATIONS } from '../backend/platform/migrationsFolder.ts'
import { databaseTrouble } from '../backend/platform/trouble.ts'
import { tableState } from '../backend/watch/index.ts'
import { CommandError } from './commandError.ts'
import { toError } from '../backend/platform/errors.ts'

/** The cell that commands are about. */
let cell: string = HOME

/** Has all commands that follow be about the shops of a cell. */
export function useCell(name: string): void {
  cell = name
}

/** Does something with the database of the configuration, or that of the cell that was named. Throws CommandError where it does not answer. */
export const withDatabase = <Result>(
  work: (db: Database, config: Config, cells: Cells) => Promise<Result>,
): Promise<Result> =>
  withCells(async (cells, config) => {
    const [db, own] = [cells.get(cell), cellConfigs(config).get(cell)]
    if (!db || !own) throw new CommandError(`There is no cell “${cell}”. There are: ${[...cells.keys()].join(', ')}.`) // prettier-ignore
    return work(db, own, cells)
  })

/** The same with the databases of all cells. */
export async function withCells<Result>(
  work: (cells: Cells, config: Config) => Promise<Result>,
): Promise<Result> {
  const config = readConfig(process.env)
  const cells = openCells(config, 4)
  try {
    return await work(cells, config)
  } catch (error) {
    if (databaseTrouble(error) !== 'away') throw error
    const { cause, message } = toError(error)
    throw new CommandError(`The database does not answer: ${cause instanceof Error ? cause.message : message}. “yomble check” says more.`) // prettier-ignore
  } finally {
    for (const db of cells.values()) await db.$client.end()
  }
}

/** As `withDatabase`, once its tables are as this program knows them. Throws CommandError where they are not. */
export function withTables<Result>(
  work: (db: Database, config: Config, cells: Cells) => Promise<Result>,
): Promise<Result> {
  return withDatabase(async (db, config, cells) => {
    await refuseOldTables(db)
    return work(db, config, cells)
  })
}

/** Throws CommandError where changes to the tables are outstanding. */
export async function refuseOldTables(db: Database): Promise<void> {
  const { pending } = await tableState(db, MIGRATIONS)
  if (pending.length === 0) return
  throw new CommandError(`The tables are not up to date: ${pending.length} changes wait. Run “yomble migrate”.`) // prettier-ignore
}
