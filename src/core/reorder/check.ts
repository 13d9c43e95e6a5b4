import { DAY_MS } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'

/** When a reorder was expected, and when it came; null if it has not yet. */
export interface Foretold {
  expectedAt: Instant
  nextAt: Instant | null
}

/** How far from its expected day the next purchase was, in whole days: before it negative. Who has not bought it again yet apart. */
export interface ReorderCheck {
  came: { days: number; count: number }[]
  notYet: number
}

/** What would have come of asking so many days before the expected day. */
export interface Asked {
  /** They had bought it again already when the day came on which they would have been asked: nobody is, for the date goes with the order. */
  tooLate: number
  /** They bought it within a week after being asked. */
  within: number
  /** They bought it later than a week after. */
  later: number
  notYet: number
}

/** A week after being asked: so long an order may well have come of it. */
export const SOON_AFTER_DAYS = 7

/**
 * Holds what was foretold against what came, for the expected days that fell in a time. What was foretold must
 * rest on nothing that was known only later.
 */
export function checkForetold(
  foretold: readonly Foretold[],
  { from, until }: { from: Instant; until: Instant },
): ReorderCheck {
  const came = new Map<number, number>()
  let notYet = 0
  for (const { expectedAt, nextAt } of foretold) {
    if (expectedAt <= from || expectedAt > until) continue
    if (nextAt === null || nextAt > until) notYet += 1
    else {
      const days = Math.floor((nextAt - expectedAt) / DAY_MS)
      came.set(days, (came.get(days) ?? 0) + 1)
    }
  }
  const inOrder = [...came].toSorted(([a], [b]) => a - b)
  return { came: inOrder.map(([days, count]) => ({ days, count })), notYet }
}

/** What would have come of asking so many days before. */
export function askedBefore({ came, notYet }: ReorderCheck, lead: number): Asked {
  const count = (isMeant: (days: number) => boolean): number =>
    came.reduce((sum, one) => sum + (isMeant(one.days + lead) ? one.count : 0), 0)
  return {
    tooLate: count((days) => days < 0),
    within: count((days) => days >= 0 && days < SOON_AFTER_DAYS),
    later: count((days) => days >= SOON_AFTER_DAYS),
    notYet,
  }
}
