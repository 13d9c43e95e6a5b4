import { sql, type SQL } from 'drizzle-orm'
import { openDatabase, type Database, type Db } from './db.ts'
import { BehindError, type Standby } from './standby.ts'
import { makeTurns, type Turn } from './turns.ts'

/** A search or a report that takes longer is given up: whoever asked has long gone. */
const LONGEST_MS = 15_000
/** So few that the rest of the application never waits for them. */
const CONNECTIONS = 4

/** Tells when nobody waits for an answer any more. */
export interface Asker {
  onGone: (callback: () => void) => void
  /** The shop whose people ask; they see what they have changed. */
  shopId?: string
}

export interface Reading {
  /**
   * Does the work on a connection of its own, in one read-only transaction: on the standby where there is one that has kept up. It ends
   * with PostgreSQL's `query_canceled` when it takes too long, and with AskerGoneError when the asker goes away. What it reckons
   * itself it does in parts, and calls `turn` between them. Where the standby fails it is done a second time.
   */
  run: <T>(asker: Asker, work: (db: Db, turn: Turn) => Promise<T>) => Promise<T>
  /** The same where what was counted is kept for the next asker. */
  runAndKeep: <T>(asker: Asker, work: (db: Db, turn: Turn) => Promise<T>) => Promise<T>
  /** Says that somebody of the shop has changed something, which is to be seen from now on. */
  changed: (shopId: string) => void
  close: () => Promise<void>
}

/** A small pool for what may take long: searches, lists with numbers, reports over the past; and one on the standby, where there is one. */
export function openReading(url: string, db: Database, standby: Standby | null = null): Reading {
  const pool = openDatabase(url, { connections: CONNECTIONS })
  const onPrimary = <T>(asker: Asker, work: Work<T>, accessMode: 'read only' | 'read write') =>
    within({ pool, canceller: db }, asker, accessMode, work)
  return {
    run: async (asker, work) => {
      const since = await standby?.mustHave(asker.shopId)
      if (standby && since !== undefined) {
        const given = await standby.tryOn(() =>
          within(standby, asker, 'read only', work, standby.isBehind(since)),
        )
        if (given !== null) return given.result
      }
      return onPrimary(asker, work, 'read only')
    },
    runAndKeep: (asker, work) => onPrimary(asker, work, 'read write'),
    changed: (shopId) => standby?.changed(shopId),
    close: async () => {
      await standby?.close()
      await pool.$client.end()
    },
  }
}

type Work<T> = (db: Db, turn: Turn) => Promise<T>

/** One transaction that ends early when its asker goes away. Throws BehindError where `refusal` holds at its beginning. */
function within<T>(
  { pool, canceller }: { pool: Database; canceller: Database },
  asker: Asker,
  accessMode: 'read only' | 'read write',
  work: Work<T>,
  refusal: SQL = sql`false`,
): Promise<T> {
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
      // For this transaction alone: behind a pooler the connection is somebody else’s the next moment.
      const { rows } = await tx.execute<{ pid: number; refused: boolean }>(sql`
        select pg_backend_pid() as pid, ${refusal} as refused, set_config('statement_timeout', ${String(LONGEST_MS)}, true)`)
      if (rows[0]?.refused) throw new BehindError()
      let cancelled: Promise<unknown> = Promise.resolve()
      cancel = () => {
        // When it cannot be cancelled, it ends by its own limit.
        cancelled = canceller
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

/** Whoever asked went away before they had their answer. */
export class AskerGoneError extends Error {}
