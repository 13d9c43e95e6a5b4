import type { Instant } from '../shared/time.ts'

interface Entry {
  at: Instant
  place: number
  happen: () => void
}

/** What is still to happen to somebody: the earliest first, and of one moment what was put in first. */
export class Agenda {
  readonly #entries: Entry[] = []
  #places = 0

  add(at: Instant, happen: () => void): void {
    const entry = { at, place: (this.#places += 1), happen }
    // Most of what is put in comes late: looked for from the end.
    const before = this.#entries.findLastIndex((one) => one.at <= at)
    this.#entries.splice(before + 1, 0, entry)
  }

  /** Lets everything happen up to a moment, with what is put in on the way. */
  runUntil(end: Instant): void {
    for (let next = this.#entries[0]; next && next.at <= end; next = this.#entries[0]) {
      this.#entries.shift()
      next.happen()
    }
  }
}
