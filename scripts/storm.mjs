import { join } from 'node:path'
import { ROOT, run } from './lib/commands.mjs'
import { takeLock } from './lib/lock.mjs'
import { ensureNodeModules } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { runScript, say } from './lib/say.mjs'

/** The long storm: workers, servers, database and mail server fail at random while thousands of messages are due. Takes some ten minutes. */
await runScript(async () => {
  const letGo = takeLock('test')
  let postgres = null
  try {
    await ensureNodeModules()
    say('Starting PostgreSQL for the storm')
    postgres = await startPostgres('test', { fresh: true })
    await run(
      join(ROOT, 'node_modules/.bin/vitest'),
      ['run', '--project', 'backend', 'src/worker/storm.test.ts'],
      {
        env: { STORM: 'long', TEST_DATABASE_URL: postgres.urlOf('postgres') },
        inherit: true,
      },
    )
  } finally {
    if (postgres) await postgres.stop()
    letGo()
  }
})
