import { execFileSync } from 'node:child_process'
import { closeSync, existsSync, mkdirSync, openSync, rmSync, writeSync } from 'node:fs'
import { join } from 'node:path'
import { toError } from '../backend/platform/errors.ts'

const CHUNK = Buffer.alloc(1024 * 1024)

/** A disk of its own that can be filled up without harm to anything else. */
export interface SmallDisk {
  folder: string
  /** Takes all that is free. */
  fill(): void
  /** Gives it back. */
  free(): void
  remove(): void
}

/** Makes a disk of so many megabytes in memory; null, and says why, where the machine lets nobody do that. */
export function makeSmallDisk(folder: string, megabytes: number): SmallDisk | null {
  const filler = join(folder, 'filler')
  try {
    if (existsSync(folder)) execFileSync('umount', ['--lazy', folder], { stdio: 'ignore' })
  } catch {
    // It was left there without a disk in it: all the better.
  }
  mkdirSync(folder, { recursive: true })
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m,mode=755`, 'tmpfs', folder], {
      stdio: 'pipe',
    })
  } catch (error) {
    console.log(`No disk can be made here, so none will be full: ${toError(error).message}`)
    return null
  }
  return {
    folder,
    fill() {
      const file = openSync(filler, 'w')
      try {
        for (;;) writeSync(file, CHUNK)
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error
      } finally {
        closeSync(file)
      }
    },
    free: () => rmSync(filler, { force: true }),
    remove() {
      execFileSync('umount', ['--lazy', folder])
    },
  }
}
