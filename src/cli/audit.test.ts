import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'

const ROOT = fileURLToPath(new URL('../../', import.meta.url))
interface Entry {
  resolved?: string
  integrity?: string
  hasInstallScript?: boolean
  license?: string
}
const readLock = () => JSON.parse(readFileSync(join(ROOT, 'package-lock.json'), 'utf8')) as { packages: Record<string, Entry> } // prettier-ignore

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'audit-'))
})
afterEach(() => rmSync(folder, { recursive: true }))

/** What the audit says of this program, with one package of it changed. */
function audit(change: (fastify: Entry) => void = () => undefined) {
  const lock = readLock()
  change(lock.packages['node_modules/fastify'] ?? {})
  writeFileSync(join(folder, 'package-lock.json'), JSON.stringify(lock))
  writeFileSync(join(folder, 'package.json'), readFileSync(join(ROOT, 'package.json')))
  const { status, stderr } = spawnSync(process.execPath, [join(ROOT, 'scripts/audit.mjs'), '--offline'], { env: { ...process.env, AUDIT_ROOT: folder }, encoding: 'utf8' }) // prettier-ignore
  return { status, said: stderr.trim() }
}

test('what this program is made of is in order', () => {
  expect(audit()).toEqual({ status: 0, said: '' })
})

describe('what is found', () => {
  test.each([
    ['a package from elsewhere', (one: Entry) => void (one.resolved = 'https://evil.example/fastify.tgz'), 'not from the registry'],
    ['one without a digest', (one: Entry) => void delete one.integrity, 'has no digest'],
    ['one that runs something', (one: Entry) => void (one.hasInstallScript = true), 'runs something when it is installed'],
    ['one of another licence', (one: Entry) => void (one.license = 'AGPL-3.0'), 'has the licence AGPL-3.0'],
  ])('%s', (_name, change, says) => {
    expect(audit(change)).toEqual({ status: 1, said: expect.stringContaining(`fastify`) })
    expect(audit(change).said).toContain(says)
  }) // prettier-ignore
})
