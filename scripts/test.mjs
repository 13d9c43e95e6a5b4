// Sets up and runs every check. The last line is "N passed, N failed".
import { mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { ensureBuild } from './lib/build.mjs'
import { ROOT, run } from './lib/commands.mjs'
import { takeLock } from './lib/lock.mjs'
import { ensureChromium, ensureNodeModules } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { runScript, say, SetupError } from './lib/say.mjs'

const bin = (name) => join(ROOT, 'node_modules/.bin', name)

/** Checks of the code itself; each counts as one. */
const STATIC_CHECKS = [
  ['Formatting', bin('prettier'), ['--check', '.']],
  ['Lint', bin('oxlint'), ['--type-aware', 'src', 'e2e', 'bench']],
  ['Boundaries between folders', bin('depcruise'), ['src']],
  ['Types', bin('tsc'), ['-p', 'tsconfig.json']],
  ['Types of the core', bin('tsc'), ['-p', 'src/core/tsconfig.json']],
  ['Types of the web application', bin('tsc'), ['-p', 'src/web/tsconfig.json']],
  ['Unused code', bin('knip'), []],
]

await runScript(async () => {
  const letGo = takeLock('test')
  let postgres = null
  const results = []
  try {
    await ensureNodeModules()
    const chromium = await ensureChromium()
    say('Starting PostgreSQL for the tests')
    postgres = await startPostgres('test', { fresh: true })
    const reports = join(ROOT, '.data/reports')
    rmSync(reports, { recursive: true, force: true })
    mkdirSync(reports, { recursive: true })
    for (const check of STATIC_CHECKS) results.push(await staticCheck(...check))
    const env = { TEST_DATABASE_URL: postgres.urlOf('postgres'), CHROMIUM: chromium }
    results.push(await unitTests(env, join(reports, 'vitest.json')))
    await ensureBuild()
    results.push(await browserTests(env, join(reports, 'playwright.json')))
  } finally {
    if (postgres) await postgres.stop()
    letGo()
  }
  const total = (key) => results.reduce((sum, result) => sum + result[key], 0)
  for (const { name, failed } of results) if (failed > 0) console.log(`✗ ${name}: ${failed} failed`)
  if (total('failed') > 0) process.exitCode = 1
  console.log(`\n${total('passed')} passed, ${total('failed')} failed`)
})

async function staticCheck(name, program, args) {
  say(name)
  try {
    await run(program, args)
    return { name, passed: 1, failed: 0 }
  } catch (error) {
    if (!(error instanceof SetupError)) throw error
    console.log(error.message)
    return { name, passed: 0, failed: 1 }
  }
}

/** Runs a test runner that writes a JSON report; its own exit code only adds to what it counted. */
async function runner(name, program, args, env, count) {
  say(name)
  let crashed = false
  await run(program, args, { env, inherit: true }).catch((error) => {
    if (!(error instanceof SetupError)) throw error
    crashed = true
  })
  const counted = count()
  const failed = crashed && counted.failed === 0 ? 1 : counted.failed
  return { name, passed: counted.passed, failed }
}

function unitTests(env, report) {
  const args = ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`]
  return runner('Unit and integration tests', bin('vitest'), args, env, () => {
    const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(report, 'utf8'))
    return { passed: numPassedTests, failed: numFailedTests }
  })
}

function browserTests(env, report) {
  const withReport = { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: report }
  return runner(
    'Browser tests',
    bin('playwright'),
    ['test', '--reporter=list,json'],
    withReport,
    () => {
      const { expected, unexpected, flaky } = JSON.parse(readFileSync(report, 'utf8')).stats
      // A test that only passes at the second try is a defect.
      return { passed: expected, failed: unexpected + flaky }
    },
  )
}
