import { spawn } from 'node:child_process'
import { accessSync, constants } from 'node:fs'
import { delimiter, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { SetupError } from './say.mjs'

/** The folder the project lives in. */
export const ROOT = fileURLToPath(new URL('../../', import.meta.url)).replace(/\/$/, '')

export const isRoot = process.getuid?.() === 0

/** The full path of a program on PATH, or null. */
export function which(program) {
  for (const folder of (process.env.PATH ?? '').split(delimiter)) {
    const path = join(folder, program)
    try {
      accessSync(path, constants.X_OK)
      return path
    } catch {
      // Not in this folder: look in the next.
    }
  }
  return null
}

/**
 * Runs a program to its end and returns what it printed. With `inherit` its output goes to the
 * terminal instead. Throws SetupError with the output when it fails.
 */
export function run(program, args, { env, inherit = false, input, explain } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, {
      cwd: ROOT,
      env: { ...process.env, ...env },
      stdio: [
        input === undefined ? 'ignore' : 'pipe',
        inherit ? 'inherit' : 'pipe',
        inherit ? 'inherit' : 'pipe',
      ],
    })
    let output = ''
    child.stdout?.on('data', (chunk) => (output += chunk))
    child.stderr?.on('data', (chunk) => (output += chunk))
    if (input !== undefined) child.stdin.end(input)
    child.on('error', (error) =>
      reject(new SetupError(`${program} could not be started: ${error.message}`)),
    )
    child.on('close', (code) => {
      if (code === 0) return resolve(output)
      const tail = output.trim().split('\n').slice(-15).join('\n')
      const what = explain ?? `${program} ${args.join(' ')}`
      reject(
        Object.assign(new SetupError(`${what} failed (exit code ${code}).\n${tail}`), {
          exitCode: code,
        }),
      )
    })
  })
}
