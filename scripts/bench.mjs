// Measures on this machine, in one run: npm run bench; what screens ask of a large shop: npm run bench -- --large;
// many shops beside one another: npm run bench -- --many
import { ROOT, run } from './lib/commands.mjs'
import { join } from 'node:path'
import { takeLock } from './lib/lock.mjs'
import { ensureBuild } from './lib/build.mjs'
import { ensureChromium, ensureNodeModules } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { runScript, say } from './lib/say.mjs'

const isLarge = process.argv.includes('--large')
const part = isLarge
  ? 'bench/large/main.ts'
  : process.argv.includes('--many')
    ? 'bench/many/main.ts'
    : 'bench/main.ts'

await runScript(async () => {
  const letGo = takeLock('bench')
  let postgres = null
  try {
    await ensureNodeModules()
    const chromium = await ensureChromium()
    await ensureBuild()
    say('Starting PostgreSQL for the measurements')
    // A large shop takes a quarter of an hour to make, so it is kept.
    postgres = await startPostgres(isLarge ? 'large' : 'bench', { fresh: !isLarge })
    const env = { TEST_DATABASE_URL: postgres.urlOf('postgres'), CHROMIUM: chromium }
    await run(process.execPath, ['--import', 'tsx', join(ROOT, part)], {
      env,
      inherit: true,
    })
  } finally {
    if (postgres) await postgres.stop()
    letGo()
  }
})
