import { fork, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { setTimeout as pause } from 'node:timers/promises'
import type { Command } from 'commander'
import { readConfig } from '../backend/platform/config.ts'
import type { Database } from '../backend/platform/db.ts'
import { migrateJobs } from '../backend/platform/jobs.ts'
import { makeLog, type Log } from '../backend/platform/log.ts'
import { migrateDatabase } from '../backend/platform/migrate.ts'
import { MIGRATIONS } from '../backend/platform/migrationsFolder.ts'
import { untilStopped } from '../backend/platform/untilStopped.ts'
import { tableState } from '../backend/watch/index.ts'
import { CommandError } from './commandError.ts'
import { refuseOldTables, withCells } from './withDatabase.ts'

/** What keeps running, and what has to be done before it may. */
export function addServing(program: Command): void {
  program
    .command('migrate')
    .description('brings the tables up to date; does nothing where they are')
    .action(migrate)
  program
    .command('server')
    .description('answers browsers, shops and the links in messages')
    .action(async () => {
      const { config, log } = await ready()
      const { startServer } = await import('../server/run.ts')
      await untilStopped(await startServer(config, log))
    })
  program
    .command('worker')
    .description('does what is due and sends; as many as are wanted, on any machine')
    .action(async () => {
      const { config, log } = await ready()
      const { startWorkers } = await import('../worker/cells.ts')
      // Whoever supervises it starts it anew: others may take it for dead once its lock is gone.
      const stop = await startWorkers({ config, log, onLost: () => process.exit(1) })
      log.info('worker started')
      await untilStopped(stop)
    })
  program
    .command('all')
    .description('a server and a worker side by side, each started anew should it end: for one machine')
    .action(async () => {
      const { log } = await ready()
      await superviseBoth(log)
    }) // prettier-ignore
}

const ready = () =>
  withCells(async (cells, config) => {
    for (const db of cells.values()) await refuseOldTables(db)
    return { config, log: makeLog(config.LOG_LEVEL) }
  })

/** Brings the tables of all cells up to date. */
async function migrate(): Promise<void> {
  await withCells(async (cells) => {
    for (const [name, db] of cells) await migrateCell(db, cells.size > 1 ? `Cell ${name}: ` : '')
  })
}

async function migrateCell(db: Database, prefix: string): Promise<void> {
  const before = await tableState(db, MIGRATIONS)
  if (before.isNewer) throw new CommandError(`${prefix}This database was brought up to date by a newer Yomble. Run that one.`) // prettier-ignore
  await migrateDatabase(db, MIGRATIONS)
  await migrateJobs(db)
  const { length } = before.pending
  console.log(prefix + (length === 0 ? 'The tables are up to date.' : `The tables are up to date: ${length} changes were made.`)) // prettier-ignore
}

const FIRST_PAUSE_MS = 1000
const LONGEST_PAUSE_MS = 30_000
/** Who has run for so long has not failed at its start. */
const SETTLED_MS = 60_000

/** Keeps a server and a worker running until told to stop; then both end what they have in hand. */
async function superviseBoth(log: Log): Promise<void> {
  const { HOST, PORT } = readConfig(process.env)
  const children = new Map<string, ChildProcess>()
  const stopping = new AbortController()
  const keep = async (name: 'server' | 'worker'): Promise<void> => {
    let pauseMs = FIRST_PAUSE_MS
    while (!stopping.signal.aborted) {
      const startedAt = performance.now()
      const child = fork(process.argv[1] ?? '', [name])
      children.set(name, child)
      child.once('message', () => {
        if (name === 'server') log.info(`answers at http://${HOST}:${PORT}`)
      })
      const [code] = (await once(child, 'exit')) as [number | null]
      if (stopping.signal.aborted) return
      if (performance.now() - startedAt > SETTLED_MS) pauseMs = FIRST_PAUSE_MS
      log.error(`the ${name} ended with exit code ${code}; it is started anew in ${pauseMs / 1000} s`)
      await pause(pauseMs, undefined, { signal: stopping.signal }).catch(() => undefined)
      pauseMs = Math.min(2 * pauseMs, LONGEST_PAUSE_MS)
    }
  }
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.on(signal, () => {
      stopping.abort()
      for (const child of children.values()) child.kill('SIGTERM')
    })
  }
  await Promise.all([keep('server'), keep('worker')])
} // prettier-ignore
