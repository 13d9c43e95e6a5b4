// Puts one mistake at a time into a copy of the code, and sees whether a test finds it.
//   npm run mutants                 all of them
//   npm run mutants -- quiet gap    those whose name has one of these words in it
import {
  cpSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { spawn } from 'node:child_process'
import { availableParallelism, tmpdir } from 'node:os'
import { join } from 'node:path'
import { ROOT } from './lib/commands.mjs'
import { ensureNodeModules } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { runScript, say, SetupError } from './lib/say.mjs'
import { conditions } from './mutants/conditions.mjs'
import { EQUIVALENT } from './mutants/equivalent.mjs'
import { experiments } from './mutants/experiments.mjs'
import { live } from './mutants/live.mjs'
import { shared } from './mutants/shared.mjs'
import { workflow } from './mutants/workflow.mjs'

/** That it fails is enough: nobody reads the smallest example. */
const SETUP = `import fc from 'fast-check'
fc.configureGlobal({ endOnFailure: true })
`
const CONFIG = `import config from './vitest.config.ts'
const projects = config.test.projects.map(({ test }) => ({
  test: { ...test, setupFiles: ['./mutants.setup.ts', ...(test.setupFiles ?? [])], maxWorkers: 1 },
}))
export default { test: { projects } }
`
/** How many of them have to be found. */
const LEAST = 0.9
const COPIED = [
  'src',
  'migrations',
  'docs',
  'package.json',
  'tsconfig.json',
  'tsconfig.base.json',
  'vitest.config.ts',
]
/** A test that goes on for ever has found the mistake, too. */
const LONGEST_MS = 120_000

await runScript(async () => {
  await ensureNodeModules()
  const words = process.argv.slice(2).map((word) => word.toLowerCase())
  const mutants = [...workflow, ...conditions, ...experiments, ...shared, ...live]
    .map(([name, file, from, to, tests]) => ({ name, file, from, to, tests }))
    .filter(
      ({ name }) => words.length === 0 || words.some((word) => name.toLowerCase().includes(word)),
    )
  for (const mutant of mutants) mustFit(mutant)
  const postgres = mutants.some(({ tests }) => tests)
    ? await startPostgres('mutants', { fresh: true })
    : null
  const env = postgres ? { TEST_DATABASE_URL: postgres.urlOf('postgres') } : {}
  const survivors = []
  const waiting = [...mutants]
  try {
    // Each in a copy of its own, so that one mistake is never seen beside another.
    await Promise.all(
      Array.from({ length: availableParallelism() }, () => lane(waiting, env, survivors)),
    )
  } finally {
    if (postgres) await postgres.stop()
  }
  conclude(mutants.length, survivors)
})

/** Takes one mutant after the other, until none is left. */
async function lane(waiting, env, survivors) {
  const folder = copyOfTheCode()
  try {
    for (let mutant = waiting.shift(); mutant; mutant = waiting.shift()) {
      const isFound = await isFoundIn(folder, mutant, env)
      const equivalent = EQUIVALENT[mutant.name]
      if (!isFound) survivors.push({ ...mutant, equivalent })
      say(`${isFound ? '✓ found' : equivalent ? '= the same' : '✗ NOT FOUND'}: ${mutant.name}`)
    }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

/** The tests never run in the working tree: it stays as it is, whatever happens. */
function copyOfTheCode() {
  const folder = mkdtempSync(join(tmpdir(), 'mutants-'))
  for (const name of COPIED) cpSync(join(ROOT, name), join(folder, name), { recursive: true })
  mkdirSync(join(folder, '.data'))
  symlinkSync(join(ROOT, 'node_modules'), join(folder, 'node_modules'))
  writeFileSync(join(folder, 'mutants.setup.ts'), SETUP)
  writeFileSync(join(folder, 'mutants.config.ts'), CONFIG)
  return folder
}

/** Throws SetupError where the code has moved on, and a mutant no longer says what is to be changed. */
function mustFit({ name, file, from }) {
  const times = readFileSync(join(ROOT, file), 'utf8').split(from).length - 1
  if (times !== 1)
    throw new SetupError(
      `“${name}”: its words stand ${times} times in ${file}. Mend it in scripts/mutants.`,
    )
}

async function isFoundIn(folder, { file, from, to, tests }, env) {
  const path = join(folder, file)
  const right = readFileSync(path, 'utf8')
  writeFileSync(
    path,
    right.replace(from, () => to),
  )
  try {
    const which = tests
      ? ['run', '--project', 'backend', ...tests]
      : ['related', file, '--run', '--project', 'core']
    return !(await passes(folder, [...which, '--config', 'mutants.config.ts', '--bail', '1'], env))
  } finally {
    writeFileSync(path, right)
  }
}

/** Whether the tests pass. Throws SetupError where none ran. */
function passes(cwd, args, env) {
  return new Promise((resolve, reject) => {
    const child = spawn(join(ROOT, 'node_modules/.bin/vitest'), args, {
      cwd,
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
      // A group of its own: what goes on for ever is ended with all its children.
      detached: true,
    })
    const longest = setTimeout(() => process.kill(-child.pid, 'SIGKILL'), LONGEST_MS)
    let output = ''
    child.stdout.on('data', (chunk) => (output += chunk))
    child.stderr.on('data', (chunk) => (output += chunk))
    child.on('close', (code) => {
      clearTimeout(longest)
      if (/No test files found/.test(output))
        reject(new SetupError(`No test runs with ${args.join(' ')}`))
      resolve(code === 0)
    })
  })
}

function conclude(count, survivors) {
  const meant = survivors.filter(({ equivalent }) => !equivalent)
  const judged = count - (survivors.length - meant.length)
  const share = judged === 0 ? 1 : (judged - meant.length) / judged
  for (const { name, equivalent } of survivors) {
    if (equivalent) console.log(`= ${name}: ${equivalent}`)
  }
  for (const { name, file } of meant) console.log(`✗ ${name} (${file})`)
  console.log(`\n${judged - meant.length} of ${judged} found: ${(100 * share).toFixed(0)} %`)
  if (share < LEAST) process.exitCode = 1
}
