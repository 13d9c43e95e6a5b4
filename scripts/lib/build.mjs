import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ROOT, run } from './commands.mjs'
import { say } from './say.mjs'

const INPUTS = [
  'src',
  'package-lock.json',
  'vite.config.ts',
  'vite.server.config.ts',
  'tsconfig.base.json',
]

function* filesUnder(path) {
  const entries = readdirSync(path, { withFileTypes: true }).toSorted((a, b) =>
    a.name < b.name ? -1 : 1,
  )
  for (const entry of entries) {
    const full = join(path, entry.name)
    if (entry.isDirectory()) yield* filesUnder(full)
    else yield full
  }
}

/** A fingerprint of everything a build is made from. */
function fingerprint() {
  const hash = createHash('sha256')
  for (const input of INPUTS) {
    const path = join(ROOT, input)
    const files = input === 'src' ? filesUnder(path) : [path]
    for (const file of files) hash.update(file.slice(ROOT.length)).update(readFileSync(file))
  }
  return hash.digest('hex')
}

/** Builds the web application and the server, unless what is there was built from the same files. */
export async function ensureBuild() {
  const stamp = join(ROOT, 'dist/.built-from')
  const now = fingerprint()
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return
  say('Building the web application and the server')
  await run('npm', ['run', 'build'], { explain: 'The build' })
  writeFileSync(stamp, now)
}
