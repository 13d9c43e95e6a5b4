import { sql, type SQL } from 'drizzle-orm'
import { openDatabase, type Database } from './db.ts'
import { databaseTrouble } from './trouble.ts'

const CONNECTIONS = 8
/** What reports show is at most so old. */
export const STALENESS_MS = 10_000
/** How often the primary is asked how far it is. */
const MARK_EVERY_MS = 1000
/** A standby that failed is left alone for so long. */
const REST_MS = 15_000
/** Ended because the primary needed what was being read here; the connection too, or the database is gone. */
const CONFLICTS: ReadonlySet<string> = new Set(['40001', '57P04', '40P01'])

/** How far the primary’s log was (in bytes) at a moment (by the process’s own clock, which never goes back). */
interface Mark {
  lsn: bigint
  at: number
}

/**
 * A hot standby that reports are read from: a copy of the database that PostgreSQL keeps by streaming replication. It is read only where
 * it has all that the primary had STALENESS_MS ago, and all that the asker's own shop has changed; else the primary is.
 */
export class Standby {
  readonly pool: Database
  readonly canceller: Database
  readonly #primary: Database
  #marks: Mark[] = []
  #restsUntil = 0
  /** Shops in which something was changed of which it is not known yet how far the log has to be for it, with a number for each time. */
  readonly #changed = new Map<string, number>()
  #changes = 0
  /** All that is known to have been changed is in the log up to here. */
  #hasChanges = 0n

  /** `now` is in milliseconds from anywhere, and never goes back. */
  readonly #now: () => number

  constructor(url: string, primary: Database, now: () => number = () => performance.now()) {
    this.#now = now
    this.pool = openDatabase(url, { connections: CONNECTIONS })
    this.canceller = openDatabase(url, { connections: 1 })
    this.#primary = primary
  }

  changed(shopId: string): void {
    this.#changes += 1
    this.#changed.set(shopId, this.#changes)
  }

  /** How far the standby has to be for this asker; undefined while it is left alone. */
  async mustHave(shopId: string | undefined): Promise<string | undefined> {
    const now = this.#now()
    if (now < this.#restsUntil) return undefined
    if (shopId !== undefined) await this.#noteChange(shopId)
    if (now - (this.#marks.at(-1)?.at ?? -Infinity) > MARK_EVERY_MS) {
      this.#marks.push({ lsn: await this.#primaryIsAt(), at: now })
    }
    // Of the marks that are old enough the youngest counts, or the oldest where none is.
    while ((this.#marks[1]?.at ?? Infinity) <= now - STALENESS_MS) this.#marks.shift()
    const oldest = this.#marks[0]?.lsn ?? 0n
    return textOf(oldest > this.#hasChanges ? oldest : this.#hasChanges)
  }

  async #noteChange(shopId: string): Promise<void> {
    const change = this.#changed.get(shopId)
    if (change === undefined) return
    const lsn = await this.#primaryIsAt()
    if (lsn > this.#hasChanges) this.#hasChanges = lsn
    // One that came meanwhile is still to be looked at.
    if (this.#changed.get(shopId) === change) this.#changed.delete(shopId)
  }

  /** Whether the standby, asked there, is not yet so far, or is no standby any more. */
  isBehind(lsn: string): SQL {
    return sql`not pg_is_in_recovery() or coalesce(pg_last_wal_replay_lsn(), '0/0') < ${lsn}::pg_lsn`
  }

  /** Does the work, or returns null where the standby is behind or in trouble, and the primary has to do it. */
  async tryOn<T>(work: () => Promise<T>): Promise<{ result: T } | null> {
    try {
      return { result: await work() }
    } catch (error) {
      if (error instanceof BehindError) return null
      if (!isTrouble(error)) throw error
      this.#restsUntil = this.#now() + REST_MS
      return null
    }
  }

  async close(): Promise<void> {
    await this.pool.$client.end()
    await this.canceller.$client.end()
  }

  async #primaryIsAt(): Promise<bigint> {
    const { rows } = await this.#primary.execute<{ bytes: string }>(sql`select (pg_current_wal_lsn() - '0/0')::text as bytes`) // prettier-ignore
    return BigInt(rows[0]?.bytes ?? 0)
  }
}

/** A place in the log as PostgreSQL writes it: two halves of 32 bits, in hexadecimal. */
const textOf = (lsn: bigint): string =>
  `${(lsn >> 32n).toString(16)}/${(lsn & 0xffff_ffffn).toString(16)}`

/** The standby does not have what it would have to. */
export class BehindError extends Error {}

function isTrouble(error: unknown): boolean {
  const trouble = databaseTrouble(error)
  if (trouble === 'away' || trouble === 'full') return true
  for (let cause: unknown = error; cause instanceof Error; cause = cause.cause) {
    if ('code' in cause && CONFLICTS.has(String(cause.code))) return true
  }
  return false
}
