import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { join } from 'node:path'
import { isRoot, ROOT, run, which } from './commands.mjs'
import { say, SetupError } from './say.mjs'

let listsRead = false

async function aptInstall(packages, { env } = {}) {
  if (!which('apt-get')) {
    throw new SetupError(
      `This needs ${packages.join(' and ')}, and there is no apt-get to install it with. Install it by hand and start again.`,
    )
  }
  if (!isRoot) {
    throw new SetupError(
      `This needs ${packages.join(' and ')}. Run this once, then start again:\n    sudo apt-get update && sudo apt-get install -y --no-install-recommends ${packages.join(' ')}`,
    )
  }
  const options = { env: { DEBIAN_FRONTEND: 'noninteractive', ...env } }
  if (!listsRead) await run('apt-get', ['update'], options)
  listsRead = true
  await run('apt-get', ['install', '-y', '--no-install-recommends', ...packages], options)
}

/** The newest PostgreSQL server programs from Debian's packages, or null. */
function findPostgres() {
  const base = '/usr/lib/postgresql'
  if (!existsSync(base)) return null
  const versions = readdirSync(base).filter((name) => existsSync(join(base, name, 'bin/initdb')))
  const newest = versions.toSorted((a, b) => Number(b) - Number(a))[0]
  return newest ? join(base, newest, 'bin') : null
}

/** The folder with PostgreSQL's programs; installs them from Debian's packages when missing. */
export async function ensurePostgres() {
  const found = findPostgres()
  if (found) return found
  say('Installing PostgreSQL from Debian’s packages')
  if (isRoot) {
    // Without this the package makes and starts a cluster of its own, which nobody asked for.
    mkdirSync('/etc/postgresql-common', { recursive: true })
    const conf = '/etc/postgresql-common/createcluster.conf'
    if (!existsSync(conf)) writeFileSync(conf, 'create_main_cluster = false\n')
  }
  await aptInstall(['postgresql'])
  const installed = findPostgres()
  if (!installed)
    throw new SetupError(
      'PostgreSQL was installed, but its programs are not under /usr/lib/postgresql.',
    )
  return installed
}

/** The path of PgBouncer; installs it from Debian's packages when missing. */
export async function ensurePgbouncer() {
  const path = '/usr/sbin/pgbouncer'
  if (existsSync(path)) return path
  say('Installing PgBouncer from Debian’s packages')
  await aptInstall(['pgbouncer'])
  return path
}

/** The path of Chromium; installs it from Debian's packages when missing. */
export async function ensureChromium() {
  if (process.env.CHROMIUM) return process.env.CHROMIUM
  const found = which('chromium')
  if (found) return found
  say('Installing Chromium from Debian’s packages')
  await aptInstall(['chromium'])
  return which('chromium') ?? '/usr/bin/chromium'
}

/** Installs the npm packages when they are missing or not those of the lockfile. */
export async function ensureNodeModules() {
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex')
  const stamp = join(ROOT, 'node_modules/.yomble-lock')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return
  say('Installing npm packages (npm ci)')
  await run('npm', ['ci', '--no-audit', '--no-fund'], { explain: 'npm ci' })
  writeFileSync(stamp, lock)
}
