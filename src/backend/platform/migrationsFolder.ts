import { folderAbove } from './folderAbove.ts'

/** The folder with the changes to the tables. */
export const MIGRATIONS = migrationsFolder()

function migrationsFolder(): string {
  const found = folderAbove(['migrations'], 'meta/_journal.json')
  if (found === null) throw new Error('The folder “migrations” is not beside the program.')
  return found
}
