// The demo while its code is changed: the browser takes over what is saved, server and worker start anew.
import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { ROOT } from './lib/commands.mjs'
import { demoEnv, refuseBusyPort, withDemoDatabase } from './lib/demo.mjs'
import { takeLock } from './lib/lock.mjs'
import { ensureNodeModules } from './lib/packages.mjs'
import { runScript, say } from './lib/say.mjs'

const fresh = process.argv.includes('--fresh')
const port = Number(process.env.PORT ?? 8080)
/** Where the server listens, behind the one that serves the browser. */
const serverPort = port + 1
/** What the server answers; everything else is the application in the browser. */
const SERVED = ['/api', '/v1', '/files', '/u/', '/l/', '/o/', '/s/', '/confirm']

await runScript(async () => {
  const letGo = takeLock('demo')
  try {
    await refuseBusyPort(port)
    await refuseBusyPort(serverPort)
    await ensureNodeModules()
    await withDemoDatabase({ fresh }, watch)
  } finally {
    letGo()
  }
})

/** Runs until Ctrl-C. */
async function watch(databaseUrl) {
  const { build, createServer } = await import('vite')
  const publicUrl = `http://127.0.0.1:${port}`
  const env = demoEnv({ databaseUrl, port: serverPort, fresh })
  const demo = restarting({ ...env, PUBLIC_URL: publicUrl })
  const watcher = await build({
    root: ROOT,
    configFile: join(ROOT, 'vite.server.config.ts'),
    logLevel: 'warn',
    build: { watch: {}, emptyOutDir: false },
  })
  let isWhole = true
  watcher.on('event', ({ code, error, result }) => {
    if (code === 'START') isWhole = true
    if (code === 'BUNDLE_END') void result?.close()
    if (code === 'ERROR') {
      isWhole = false
      console.error(error.message)
      say('Server and worker go on as they were.')
    }
    if (code === 'END' && isWhole) demo.restart()
  })
  const target = `http://127.0.0.1:${serverPort}`
  const browser = await createServer({
    configFile: join(ROOT, 'vite.config.ts'),
    server: {
      host: '127.0.0.1',
      port,
      strictPort: true,
      proxy: Object.fromEntries(SERVED.map((path) => [path, { target }])),
    },
  })
  await browser.listen()
  say(`In the browser: ${publicUrl}`)
  await new Promise((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, resolve)
  })
  await Promise.all([browser.close(), watcher.close(), demo.stop()])
}

/** The demo's process, started anew whenever it is asked to; once at a time. */
function restarting(env) {
  let child = null
  let turn = Promise.resolve()
  const stop = async () => {
    if (!child || child.exitCode !== null || child.signalCode !== null) return
    const ended = new Promise((resolve) => child.once('close', resolve))
    child.kill('SIGTERM')
    await ended
  }
  const start = () => {
    child = spawn(process.execPath, [join(ROOT, 'dist/server/demo.js')], {
      cwd: ROOT,
      env,
      stdio: 'inherit',
      detached: true,
    })
    // The shop is emptied once, not at every change.
    delete env.DEMO_FRESH
  }
  return {
    restart: () => {
      turn = turn.then(stop).then(start)
    },
    stop: () => turn.then(stop),
  }
}
