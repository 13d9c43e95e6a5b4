import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Command } from 'commander'
import { noteInstallation } from '../../backend/watch/index.ts'
import { CommandError } from '../commandError.ts'
import { withDatabase, withTables } from '../withDatabase.ts'
import { FILES, makeBackup } from './makeBackup.ts'
import { restoreBackup } from './restoreBackup.ts'
import { opened } from './sealed.ts'

/** A copy of everything, and what is made of one. */
export function addBackup(program: Command): void {
  program
    .command('backup')
    .description('writes the database as it is at one moment, and the keys that belong to it, to a new folder')
    .argument('<folder>')
    .option('--without-keys', 'leaves the keys out: they are kept elsewhere')
    .action((folder: string, { withoutKeys }: { withoutKeys?: true }) =>
      withTables(async (db, config) => {
        const passphrase = withoutKeys ? null : passphraseOf(process.env)
        const { madeAt, counts } = await makeBackup(db, config, { folder, passphrase })
        await noteInstallation(db, 'backup')
        const rows = Object.values(counts).reduce((sum, count) => sum + count, 0)
        console.log(`${folder} holds everything as of ${madeAt}: ${rows} rows in ${Object.keys(counts).length} tables.`)
      }),
    )
  program
    .command('restore')
    .description('fills an empty database with a backup; its workflows are paused, so that nothing is sent twice')
    .argument('<folder>')
    .action((folder: string) =>
      withDatabase(async (db, config) => {
        const { manifest, paused, doubtful } = await restoreBackup(db, config, folder)
        console.log(
          [
            `Everything is as it was at ${manifest.madeAt}; every table has as many rows as then.`,
            `${paused} live workflows are paused. Resume each from its page, which asks what of it is too late to be sent.`,
            `${doubtful} messages may have left since; somebody says so of each in the ledger, under what needs attention.`,
            'If an older program made the backup, run “yomble migrate” next.',
          ].join('\n'),
        )
      }),
    )
  program
    .command('keys')
    .description('prints the keys of a backup, as settings')
    .argument('<folder>')
    .action((folder: string) => {
      const text = opened(readFileSync(join(folder, FILES.keys), 'utf8'), passphraseOf(process.env))
      console.log(text)
    })
} // prettier-ignore

function passphraseOf(env: NodeJS.ProcessEnv): string {
  const file = env['BACKUP_PASSPHRASE_FILE']
  const passphrase = file ? readFileSync(file, 'utf8').trim() : env['BACKUP_PASSPHRASE']
  if (!passphrase || passphrase.length < 12) {
    throw new CommandError('The keys are sealed with a passphrase of at least 12 characters: set BACKUP_PASSPHRASE or BACKUP_PASSPHRASE_FILE, or say --without-keys.') // prettier-ignore
  }
  return passphrase
}
