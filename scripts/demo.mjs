import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { ensureBuild } from './lib/build.mjs'
import { ROOT } from './lib/commands.mjs'
import { demoEnv, refuseBusyPort, withDemoDatabase } from './lib/demo.mjs'
import { takeLock } from './lib/lock.mjs'
import { ensureNodeModules } from './lib/packages.mjs'
import { runScript, SetupError } from './lib/say.mjs'

const fresh = process.argv.includes('--fresh')
const port = Number(process.env.PORT ?? 8080)

await runScript(async () => {
  const letGo = takeLock('demo')
  try {
    await refuseBusyPort(port)
    await ensureNodeModules()
    // PostgreSQL starts beside the build; a build that fails is told once the database can be stopped again.
    const built = ensureBuild()
    built.catch(() => undefined)
    await withDemoDatabase({ fresh }, async (databaseUrl) => {
      await built
      await runDemo(demoEnv({ databaseUrl, port, fresh }))
    })
  } finally {
    letGo()
  }
})

/** Runs everything until Ctrl-C, which reaches it as it reaches this script. */
async function runDemo(env) {
  const child = spawn(process.execPath, [join(ROOT, 'dist/server/demo.js')], {
    cwd: ROOT,
    env,
    stdio: 'inherit',
    detached: true,
  })
  const stop = () => child.kill('SIGTERM')
  process.on('SIGINT', stop)
  process.on('SIGTERM', stop)
  const code = await new Promise((resolve) => child.on('close', resolve))
  if (code !== 0 && code !== null)
    throw new SetupError(`Yomble stopped with exit code ${code}; what it said is above.`)
}
