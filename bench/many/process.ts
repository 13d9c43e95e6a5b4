import { spawn, type ChildProcess } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { setTimeout as pause } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import { LINK_SECRET } from '../../src/testing/world.ts'
import type { Shops } from './shops.ts'
import type { Sink } from './sink.ts'

/** A worker in a process of its own. */
export interface Worker {
  /** The processor time it has taken so far, in seconds. */
  seconds: () => number
  stop: () => Promise<void>
}

/** Starts so many workers, and resolves when all of them have registered. */
export async function startWorkers(shops: Shops, sink: Sink, count: number): Promise<Worker[]> {
  const children = Array.from({ length: count }, () => startOne(shops.url, sink.url))
  for (;;) {
    const { rows } = await shops.db.execute(sql`select 1 from workers where pool_id is not null`)
    if (rows.length >= count) break
    await pause(100)
  }
  return children.map((child) => ({
    seconds: () => secondsOf(child.pid ?? 0),
    stop: async () => {
      const ended = new Promise((resolve) => child.once('exit', resolve))
      child.kill('SIGTERM')
      await ended
    },
  }))
}

function startOne(url: string, smtpUrl: string): ChildProcess {
  const env = { ...process.env, DATABASE_URL: url, SMTP_URL: smtpUrl, LINK_SECRET, LOG_LEVEL: 'error' } // prettier-ignore
  return spawn(process.execPath, ['--import', 'tsx', 'src/worker/main.ts'], { env, stdio: ['ignore', 'inherit', 'inherit'] }) // prettier-ignore
}

/** Ticks of the processor in a second, as Linux counts them for programs. */
const TICKS = 100

function secondsOf(pid: number): number {
  // The name in parentheses may have spaces; user and system time are the 14th and 15th field (proc(5)).
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8')
    .replace(/^.*\) /s, '')
    .split(' ')
  return (Number(fields[11]) + Number(fields[12])) / TICKS
}

/** The processor time of each process of PostgreSQL so far, in seconds. */
export function postgresTimes(): Map<string, number> {
  const times = new Map<string, number>()
  for (const name of readdirSync('/proc')) {
    if (!/^\d+$/.test(name)) continue
    try {
      if (readFileSync(`/proc/${name}/comm`, 'utf8').startsWith('postgres')) times.set(name, secondsOf(Number(name))) // prettier-ignore
    } catch (error) {
      // It has ended since the folder was read.
      if (!(error instanceof Error && 'code' in error && (error.code === 'ENOENT' || error.code === 'ESRCH'))) throw error // prettier-ignore
    }
  }
  return times
}

/** How much of it was taken since; of processes that have ended in the meantime nothing is known. */
export function postgresSince(before: ReadonlyMap<string, number>): number {
  let seconds = 0
  for (const [process, now] of postgresTimes()) seconds += now - (before.get(process) ?? 0)
  return seconds
}
