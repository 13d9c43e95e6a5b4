import { mkdirSync, existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import type { Config } from '../../backend/platform/config.ts'
import { rowsOf, type Database } from '../../backend/platform/db.ts'
import { realNow } from '../../backend/platform/realTime.ts'
import { formatInstant } from '../../core/shared/time.ts'
import { CommandError } from '../commandError.ts'
import { countTables } from './counts.ts'
import { runPostgres } from './postgresTools.ts'
import { sealed } from './sealed.ts'

/** What a backup says of itself. */
export const manifest = z.object({
  format: z.literal('yomble.backup'),
  formatVersion: z.literal(1),
  madeAt: z.string(),
  counts: z.record(z.string(), z.int()),
})
export type Manifest = z.infer<typeof manifest>

/** The files of a backup, in its folder. */
export const FILES = { manifest: 'manifest.json', dump: 'database.dump', keys: 'keys.sealed' } as const // prettier-ignore

/**
 * Writes all there is to a new folder: the database as it stands at one moment, while everything goes on, and the keys without which
 * links in messages that were sent would lead nowhere. Throws CommandError where the folder is there.
 */
export async function makeBackup(
  db: Database,
  config: Config,
  { folder, passphrase }: { folder: string; passphrase: string | null },
): Promise<Manifest> {
  if (existsSync(folder)) throw new CommandError(`${folder} is there already. A backup makes a folder of its own.`) // prettier-ignore
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const made = await db.transaction(
    async (tx) => {
      const [row] = await rowsOf(tx, z.object({ id: z.string() }), sql`select pg_export_snapshot() as id`) // prettier-ignore
      const counts = await countTables(tx)
      await runPostgres('pg_dump', config.DATABASE_URL, ['--format=custom', '--no-owner', '--no-privileges', `--snapshot=${row?.id}`, `--file=${join(folder, FILES.dump)}`]) // prettier-ignore
      return { format: 'yomble.backup' as const, formatVersion: 1 as const, madeAt: formatInstant(realNow()), counts } // prettier-ignore
    },
    { isolationLevel: 'repeatable read', accessMode: 'read only' },
  )
  if (passphrase !== null) {
    writeFileSync(join(folder, FILES.keys), sealed(JSON.stringify(keysOf(config)), passphrase), { mode: 0o600 }) // prettier-ignore
  }
  // Last: a folder with a manifest holds a whole backup.
  writeFileSync(join(folder, FILES.manifest), `${JSON.stringify(made, null, 2)}\n`)
  return made
}

/** What an installation cannot do without and does not keep in its database, as settings. */
function keysOf({
  LINK_SECRET,
  FORMER_LINK_SECRETS,
  DKIM_DOMAIN,
  DKIM_SELECTOR,
  DKIM_KEY_FILE,
}: Config) {
  return {
    LINK_SECRET,
    ...(FORMER_LINK_SECRETS.length > 0 && { FORMER_LINK_SECRETS: FORMER_LINK_SECRETS.join(',') }),
    ...(DKIM_DOMAIN && { DKIM_DOMAIN }),
    ...(DKIM_SELECTOR && { DKIM_SELECTOR }),
    ...(DKIM_KEY_FILE && { DKIM_KEY: readFileSync(DKIM_KEY_FILE, 'utf8') }),
  }
}
