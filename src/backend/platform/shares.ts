import type { Instant } from '../../core/shared/time.ts'

/** What a shop may have done in a second before its work waits behind that of others: events looked at, or runs sent for. */
const A_SECOND = 10
/** However much a shop brings, none of its work is put off for longer than this. */
const LONGEST_PUT_OFF_MS = 3_600_000
/** So many shops are remembered before those with nothing outstanding are forgotten. */
const MOST_REMEMBERED = 10_000

/**
 * When each piece of work ought to be done, so that work goes in the order of those moments and one shop's storm holds up no other: at
 * once for a shop that keeps to its share, later and later for one that brings more. Nobody is held back while there is nobody else.
 * It is the virtual clock of Zhang (SIGCOMM 1990), with a limit to how far it may be ahead.
 *
 * Each process keeps its own, in memory: with several of them a shop has as many shares.
 */
export class Shares {
  readonly #usedUntil = new Map<string, Instant>()

  /** The moment at which `amount` pieces of work, which `whose` brings now, ought to be done. */
  dueAt(whose: string, amount: number, now: Instant): Instant {
    const due = Math.max(now, this.#usedUntil.get(whose) ?? now)
    this.#usedUntil.set(whose, Math.min(due + (amount * 1000) / A_SECOND, now + LONGEST_PUT_OFF_MS))
    if (this.#usedUntil.size > MOST_REMEMBERED) this.#forget(now)
    return due
  }

  /** How many are remembered. */
  get size(): number {
    return this.#usedUntil.size
  }

  #forget(now: Instant): void {
    for (const [whose, until] of this.#usedUntil) if (until <= now) this.#usedUntil.delete(whose)
  }
}
