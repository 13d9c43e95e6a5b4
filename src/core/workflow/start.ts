import type { EventType } from '../events/eventTypes.ts'
import type { Facts } from '../events/facts.ts'
import { zoneOf } from '../events/facts.ts'
import { assertNever } from '../shared/assertNever.ts'
import { addDuration, DAY_MS } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'
import type { Program } from './compile.ts'
import type { Decision, TurnAwayReason } from './decision.ts'
import { heldExclusion } from './gates.ts'

/** What is known of a person's earlier runs in a workflow, over all its versions. */
export interface EntryHistory {
  lastEnteredAt: Instant | null
  inProgress: boolean
}

/**
 * An event that arrives later than this after it happened starts nothing: a shop that hands in its
 * past, or a queue that was stuck, must not thank people for last year's orders.
 */
export const TOO_OLD_DAYS = 7

/**
 * Does an event start a run? In this order: trigger, age, trigger filter, entry rule, exclusions
 * that make people leave (one that only skips a message keeps nobody out). Null when the trigger does not match; otherwise `entered`, or `turnedAway` with the first reason.
 */
export function considerStart(
  program: Program,
  event: { type: EventType; at: Instant },
  facts: Facts,
  earlier: EntryHistory,
): Decision | null {
  if (program.definition.trigger.event !== event.type) return null
  if (facts.now - event.at > TOO_OLD_DAYS * DAY_MS) {
    return turnedAway({ code: 'tooOld', happenedAt: event.at })
  }
  const asked = { facts, enteredAt: event.at }
  if (program.filter && !program.filter.holds(asked)) {
    return turnedAway({ code: 'filter', observed: program.filter.observe(asked) })
  }
  const refused = entryRefusal(program, event.at, facts, earlier)
  if (refused) return turnedAway(refused)
  const held = heldExclusion(program, asked, 'leave')
  if (held) {
    const observed = held.when.observe(asked)
    return turnedAway({ code: 'exclusion', exclusion: held.key, observed })
  }
  return { kind: 'entered', observed: program.filter?.observe(asked) ?? [] }
}

function entryRefusal(
  program: Program,
  at: Instant,
  facts: Facts,
  { lastEnteredAt, inProgress }: EntryHistory,
): TurnAwayReason | null {
  const { rule, overlap } = program.definition.entry
  if (overlap === 'one' && inProgress) return { code: 'alreadyInProgress' }
  if (lastEnteredAt === null) return null
  switch (rule.kind) {
    case 'every':
      return null
    case 'once':
      return { code: 'enteredBefore', lastEnteredAt }
    case 'after': {
      const againAt = addDuration(lastEnteredAt, rule.duration, zoneOf(facts))
      return at >= againAt ? null : { code: 'enteredTooRecently', lastEnteredAt, againAt }
    }
    default:
      return assertNever(rule, 'entry rule')
  }
}

const turnedAway = (reason: TurnAwayReason): Decision => ({ kind: 'turnedAway', reason })
