import type { Config } from '../platform/config.ts'
import { openDatabase, type Database } from '../platform/db.ts'
import { HOME } from './directory.ts'

/** The configuration of each cell: the same but for the database. The standby is of the home cell. */
export function cellConfigs(config: Config): Map<string, Config> {
  const configs = new Map([[HOME, config]])
  for (const [name, url] of Object.entries(config.CELLS)) {
    configs.set(name, { ...config, DATABASE_URL: url, STANDBY_URL: undefined, CELLS: {} })
  }
  return configs
}

/** Opens the databases of all cells, by their names. */
export function openCells(config: Config, connections?: number): Map<string, Database> {
  const open = (url: string) => openDatabase(url, connections === undefined ? {} : { connections })
  return new Map([...cellConfigs(config)].map(([name, own]) => [name, open(own.DATABASE_URL)]))
}
