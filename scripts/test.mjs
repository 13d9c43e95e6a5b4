// Sets up and runs every check. The last line is "N passed, N failed".
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { ensureBuild } from './lib/build.mjs'
import { ROOT, run } from './lib/commands.mjs'
import { takeLock } from './lib/lock.mjs'
import { ensureChromium, ensureNodeModules } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { runScript, say, SetupError } from './lib/say.mjs'

const REPORTS = join(ROOT, '.data/reports')
/** How many of the slowest tests are named at the end. */
const SLOWEST = 10
const bin = (name) => join(ROOT, 'node_modules/.bin', name)

/** Checks of the code itself; each counts as one. */
const STATIC_CHECKS = [
  // First, since the tests that use it are checked as well.
  ['Client made from the OpenAPI document', bin('tsx'), ['scripts/writeClient.ts']],
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
    rmSync(REPORTS, { recursive: true, force: true })
    mkdirSync(REPORTS, { recursive: true })
    for (const check of STATIC_CHECKS) results.push(await staticCheck(...check))
    const env = { TEST_DATABASE_URL: postgres.urlOf('postgres'), CHROMIUM: chromium }
    results.push(await unitTests(env, join(REPORTS, 'vitest.json')))
    await ensureBuild()
    results.push(await browserTests(env, join(REPORTS, 'playwright.json')))
  } finally {
    if (postgres) await postgres.stop()
    letGo()
  }
  saySlowest()
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

/** Where the time goes: the tests that took longest, of those that got as far as a report. */
function saySlowest() {
  const all = [
    ...unitTimes(join(REPORTS, 'vitest.json')),
    ...browserTimes(join(REPORTS, 'playwright.json')),
  ]
  if (all.length === 0) return
  say(`The ${SLOWEST} slowest tests`)
  for (const { ms, name } of all.toSorted((a, b) => b.ms - a.ms).slice(0, SLOWEST)) {
    console.log(`  ${(ms / 1000).toFixed(1).padStart(6)} s  ${name}`)
  }
}

function unitTimes(report) {
  if (!existsSync(report)) return []
  const { testResults } = JSON.parse(readFileSync(report, 'utf8'))
  return testResults.flatMap(({ assertionResults }) =>
    assertionResults.map(({ duration, fullName }) => ({ ms: duration ?? 0, name: fullName })),
  )
}

function browserTimes(report) {
  if (!existsSync(report)) return []
  const specsOf = ({ specs = [], suites = [] }) => [...specs, ...suites.flatMap(specsOf)]
  return JSON.parse(readFileSync(report, 'utf8'))
    .suites.flatMap(specsOf)
    .map(({ title, tests }) => ({
      ms: tests.flatMap(({ results }) => results).reduce((sum, { duration }) => sum + duration, 0),
      name: title,
    }))
}
