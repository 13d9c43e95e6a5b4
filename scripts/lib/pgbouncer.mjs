import { spawn } from 'node:child_process'
import { chmodSync, chownSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import { isRoot, run } from './commands.mjs'
import { freePort } from './freePort.mjs'
import { ensurePgbouncer } from './packages.mjs'

/**
 * Starts a PgBouncer in transaction mode on a free loopback port, in front of the PostgreSQL at an address. It lets in whoever comes from this
 * machine: it is for tests.
 */
export async function startPgbouncer(postgresUrl) {
  const program = await ensurePgbouncer()
  const folder = mkdtempSync(join(tmpdir(), 'yomble-pgbouncer-'))
  chmodSync(folder, 0o755)
  const port = await freePort()
  const ini = join(folder, 'pgbouncer.ini')
  const write = (url) => {
    writeFileSync(ini, iniOf(new URL(url), port, folder))
    // It refuses to run as root, as PostgreSQL does.
    if (isRoot) chownSync(ini, uid, uid)
  }
  const uid = isRoot ? Number(await run('id', ['-u', 'postgres'])) : 0
  if (isRoot) chownSync(folder, uid, uid)
  write(postgresUrl)
  const child = spawn(program, [...(isRoot ? ['-u', 'postgres'] : []), ini], { stdio: 'ignore' })
  const ended = new Promise((resolve) => child.once('exit', resolve))
  await untilItListens(port, child)
  return {
    urlOf: (database) => `postgres://yomble@127.0.0.1:${port}/${database}`,
    /** Sends whoever comes from now on to another PostgreSQL, as is done after a fail-over. */
    leadTo: (url) => {
      write(url)
      child.kill('SIGHUP')
    },
    stop: async () => {
      child.kill('SIGINT')
      const late = setTimeout(() => child.kill('SIGKILL'), 5000)
      await ended
      clearTimeout(late)
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

function iniOf({ hostname, port, username, password }, ownPort, folder) {
  return `[databases]
* = host=${hostname} port=${port} user=${username} password=${decodeURIComponent(password)}
[pgbouncer]
listen_addr = 127.0.0.1
listen_port = ${ownPort}
unix_socket_dir =
auth_type = any
pool_mode = transaction
max_client_conn = 500
default_pool_size = 12
server_login_retry = 1
logfile = ${join(folder, 'pgbouncer.log')}
pidfile = ${join(folder, 'pgbouncer.pid')}
`
}

async function untilItListens(port, child) {
  for (let tries = 0; tries < 200; tries += 1) {
    if (child.exitCode !== null)
      throw new Error(`PgBouncer ended at once (exit code ${child.exitCode})`)
    const listens = await new Promise((resolve) => {
      const socket = connect(port, '127.0.0.1', () => {
        socket.destroy()
        resolve(true)
      })
      socket.once('error', () => resolve(false))
    })
    if (listens) return
    await pause(50)
  }
  throw new Error('PgBouncer did not start to listen')
}
