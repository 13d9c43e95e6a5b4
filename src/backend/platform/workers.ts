import { randomBytes } from 'node:crypto'
import { eq, inArray, sql } from 'drizzle-orm'
import type { Database, Db, Transaction } from './db.ts'
import { workers } from './tables.ts'

/** Tells the advisory locks of workers from any other use. */
const LOCK_SPACE = 7_406_001

const WAKE_CHANNEL = 'yomble_wake'

/** Wakes every worker that is between two rounds, once the caller's transaction commits. */
export async function wakeWorkers(db: Db): Promise<void> {
  await db.execute(sql`select pg_notify(${WAKE_CHANNEL}, '')`)
}

export interface WorkerIdentity {
  id: string
  /** Calls back whenever somebody wants the workers awake. */
  onWake: (wake: () => void) => void
  /** Notes what the job queue calls this process, so that its jobs can be freed if it dies. */
  joinPool: (poolId: string) => Promise<void>
  /** Gives the identity up in good order. */
  release: () => Promise<void>
}

/**
 * Registers this process as a worker. `onLost` is called if the connection that holds the lock
 * breaks: others may then take it for dead, so it has to stop.
 */
export async function registerWorker(db: Database, onLost: () => void): Promise<WorkerIdentity> {
  const id = `w-${randomBytes(9).toString('hex')}`
  const [row] = await db.insert(workers).values({ id }).returning()
  if (!row) throw new Error('The worker could not be registered')
  const client = await db.$client.connect()
  await client.query('select pg_advisory_lock($1, $2)', [LOCK_SPACE, row.lockKey])
  await client.query(`listen ${WAKE_CHANNEL}`)
  let released = false
  client.on('error', () => {
    if (!released) onLost()
  })
  return {
    id,
    onWake: (wake) => void client.on('notification', wake),
    joinPool: async (poolId) => {
      await db.update(workers).set({ poolId }).where(eq(workers.id, id))
    },
    release: async () => {
      released = true
      await db.delete(workers).where(eq(workers.id, id))
      client.release(true)
    },
  }
}

/**
 * Finds workers that died, frees the jobs they held and forgets them. `takeOver` is called with
 * their ids in the same transaction, for what else they left half done.
 */
export async function buryDeadWorkers(
  db: Database,
  takeOver: (tx: Transaction, ids: string[]) => Promise<void>,
): Promise<number> {
  return db.transaction(async (tx) => {
    // A lock that can be had belongs to nobody who lives; it is let go at the end of this
    // transaction, and the row goes with it.
    const dead = await tx
      .select()
      .from(workers)
      .where(sql`pg_try_advisory_xact_lock(${LOCK_SPACE}, ${workers.lockKey}::int)`)
      .for('update', { skipLocked: true })
    if (dead.length === 0) return 0
    const ids = dead.map((worker) => worker.id)
    await takeOver(tx, ids)
    const pools = dead.flatMap((worker) => worker.poolId ?? [])
    await tx.execute(sql`select graphile_worker.force_unlock_workers(${sql.param(pools)}::text[])`)
    await tx.delete(workers).where(inArray(workers.id, ids))
    return ids.length
  })
}
