// Measures on this machine, in one run: npm run bench
import { ROOT, run } from './lib/commands.mjs'
import { join } from 'node:path'
import { takeLock } from './lib/lock.mjs'
import { ensureBuild } from './lib/build.mjs'
import { ensureChromium, ensureNodeModules } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { runScript, say } from './lib/say.mjs'

await runScript(async () => {
  const letGo = takeLock('bench')
  let postgres = null
  try {
    await ensureNodeModules()
    const chromium = await ensureChromium()
    await ensureBuild()
    say('Starting PostgreSQL for the measurements')
    postgres = await startPostgres('bench', { fresh: true })
    const env = { TEST_DATABASE_URL: postgres.urlOf('postgres'), CHROMIUM: chromium }
    await run(process.execPath, ['--import', 'tsx', join(ROOT, 'bench/main.ts')], {
      env,
      inherit: true,
    })
  } finally {
    if (postgres) await postgres.stop()
    letGo()
  }
})
