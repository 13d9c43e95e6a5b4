import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ROOT } from './commands.mjs'
import { SetupError } from './say.mjs'

/**
 * Keeps two of the same from running at once in this folder, since they would share a database.
 * Returns the function that lets go. A lock whose process is gone does not count.
 */
export function takeLock(name) {
  const folder = join(ROOT, '.data')
  const file = join(folder, `${name}.pid`)
  try {
    mkdirSync(folder, { recursive: true })
    if (existsSync(file) && isAlive(Number(readFileSync(file, 'utf8')))) {
      throw new SetupError(
        `This is running already (process ${readFileSync(file, 'utf8').trim()}). Stop it first.`,
      )
    }
    writeFileSync(file, String(process.pid))
  } catch (error) {
    if (error instanceof SetupError) throw error
    throw new SetupError(
      `Yomble may not write to ${folder} (${error.code}). Give yourself the right to.`,
    )
  }
  return () => rmSync(file, { force: true })
}

function isAlive(pid) {
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    // EPERM: it lives, but belongs to somebody else.
    return error.code === 'EPERM'
  }
}
