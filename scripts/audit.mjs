import { readFileSync } from 'node:fs'
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { ROOT } from './lib/commands.mjs'
import { lockFileProblems } from './lib/lockFile.mjs'

/**
 * Looks at what this program is made of: the lock file by itself, then what is known of the packages in it. `--offline` leaves the
 * second out. Ends with 1 where something is wrong, and says what could not be asked.
 */
const read = (name) => JSON.parse(readFileSync(join(process.env.AUDIT_ROOT ?? ROOT, name), 'utf8'))
const problems = lockFileProblems(read('package.json'), read('package-lock.json'))
for (const problem of problems) console.error(`✗ ${problem}`)
if (problems.length === 0)
  console.log(
    '• The lock file: every package comes from the registry, with a digest, a version of its own, and nothing that runs when it is installed.',
  )
let isKnownBad = false
if (!process.argv.includes('--offline')) {
  const { status, stdout } = spawnSync('npm', ['audit', '--omit=dev', '--json'], {
    cwd: ROOT,
    encoding: 'utf8',
  })
  const said = JSON.parse(stdout || '{}')
  if (said.metadata === undefined)
    console.log(
      '• What is known of the packages could not be asked: the registry answers no audits.',
    )
  else {
    const { critical, high, moderate, low } = said.metadata.vulnerabilities
    console.log(
      `• Known of what runs: ${critical} critical, ${high} high, ${moderate} moderate, ${low} low.`,
    )
    isKnownBad = status !== 0 && critical + high > 0
    for (const { name, severity, via } of Object.values(said.vulnerabilities))
      console.log(`  ${severity}: ${name} (${via.map((one) => one.title ?? one).join('; ')})`)
  }
}
process.exitCode = problems.length > 0 || isKnownBad ? 1 : 0
