import { sql } from 'drizzle-orm'
import { openDatabase, type Database, type Db } from './db.ts'
import { makeTurns, type Turn } from './turns.ts'

/** A search or a report that takes longer is given up: whoever asked has long gone. */
const LONGEST_MS = 15_000
/** So few that the rest of the application never waits for them. */
const CONNECTIONS = 4

/** Tells when nobody waits for an answer any more. */
export interface Asker {
  onGone: (callback: () => void) => void
}

export interface Reading {
  /**
   * Does the work on a connection of its own, in one read-only transaction. It ends with PostgreSQL's
   * `query_canceled` when it takes too long, and with AskerGoneError when the asker goes away. What it reckons itself it does in
   * parts, and calls `turn` between them.
   */
  run: <T>(asker: Asker, work: (db: Db, turn: Turn) => Promise<T>) => Promise<T>
  /** The same where what was counted is kept for the next asker. */
  runAndKeep: <T>(asker: Asker, work: (db: Db, turn: Turn) => Promise<T>) => Promise<T>
  close: () => Promise<void>
}

/** A small pool for what may take long: searches, lists with numbers, reports over the past. */
export function openReading(url: string, db: Database): Reading {
  const pool = openDatabase(url, { connections: CONNECTIONS, statementTimeoutMs: LONGEST_MS })
  const run = <T>(
    asker: Asker,
    work: (db: Db, turn: Turn) => Promise<T>,
    accessMode: 'read only' | 'read write',
  ): Promise<T> => {
    let gone = false
    let cancel: () => void = () => undefined
    asker.onGone(() => {
      gone = true
      cancel()
    })
    return pool.transaction(
      async (tx) => {
        const turn = makeTurns(() => {
          if (gone) throw new AskerGoneError()
        })
        if (gone) throw new AskerGoneError()
        const { rows } = await tx.execute<{ pid: number }>(sql`select pg_backend_pid() as pid`)
        let cancelled: Promise<unknown> = Promise.resolve()
        cancel = () => {
          // When it cannot be cancelled, it ends by its own limit.
          cancelled = db
            .execute(sql`select pg_cancel_backend(${rows[0]?.pid})`)
            .catch(() => undefined)
        }
        try {
          return await work(tx, turn)
        } catch (error) {
          // The cancelling made it fail: that is no trouble of the database's.
          throw gone ? new AskerGoneError() : error
        } finally {
          cancel = () => undefined
          // The connection goes back only when no cancelling is on its way to it.
          await cancelled
        }
      },
      { accessMode },
    )
  }
  return {
    run: (asker, work) => run(asker, work, 'read only'),
    runAndKeep: (asker, work) => run(asker, work, 'read write'),
    close: () => pool.$client.end(),
  }
}

/** Whoever asked went away before they had their answer. */
export class AskerGoneError extends Error {}
