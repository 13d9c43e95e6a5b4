import { existsSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** The folder with the changes to the tables, above wherever this runs from: the sources, or what was built of them. */
export const MIGRATIONS = migrationsAbove(dirname(fileURLToPath(import.meta.url)))

function migrationsAbove(folder: string): string {
  const found = join(folder, 'migrations')
  if (existsSync(join(found, 'meta/_journal.json'))) return found
  const above = dirname(folder)
  if (above === folder) throw new Error('The folder “migrations” is not beside the program.')
  return migrationsAbove(above)
}
