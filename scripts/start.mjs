import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { ensureBuild } from './lib/build.mjs'
import { ROOT } from './lib/commands.mjs'
import { ensureNodeModules } from './lib/packages.mjs'
import { runScript, SetupError } from './lib/say.mjs'

/** Yomble for one machine: builds it where that is needed, brings the tables up to date, and runs a server and a worker. Where nobody is yet, it says where to begin. */
await runScript(async () => {
  await ensureNodeModules()
  await ensureBuild()
  await yomble('migrate')
  await yomble('begin', '--if-empty')
  await yomble('all')
})

function yomble(command, ...options) {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [join(ROOT, 'bin/yomble.mjs'), command, ...options], {
      stdio: 'inherit',
    })
    for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => child.kill('SIGTERM'))
    child.on('close', (code) =>
      code === 0 || code === null
        ? resolve()
        : reject(
            new SetupError(
              `“yomble ${command}” ended with exit code ${code}; what it said is above.`,
            ),
          ),
    )
  })
}
