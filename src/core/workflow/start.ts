import type { Observation } from '../conditions/observation.ts'
import type { EventType } from '../events/eventTypes.ts'
import type { Facts } from '../events/facts.ts'
import { zoneOf } from '../events/facts.ts'
import { assertNever } from '../shared/assertNever.ts'
import { addDuration, DAY_MS } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'
import type { Program } from './compile.ts'
import type { Decision, EntryCause, TurnAwayReason } from './decision.ts'
import { heldExclusion } from './gates.ts'
import type { EventTrigger } from './trigger.ts'

/** What is known of a person's earlier runs in a workflow, over all its versions. */
export interface EntryHistory {
  lastEnteredAt: Instant | null
  inProgress: boolean
}

/** What may start a run: an event, a date that is near, or a person who puts somebody in. */
export interface Occasion {
  at: Instant
  /** For events. */
  type: EventType | null
  change: { from: string | null; to: string } | null
  cause: EntryCause
}

/**
 * An event that arrives later than this after it happened starts nothing: a shop that hands in its
 * past, or a queue that was stuck, must not thank people for last year's orders.
 */
export const TOO_OLD_DAYS = 7

/** True when an event is one that a trigger waits for: its type, and from and to which status. */
export function matchesTrigger(program: Program, { type, change }: Occasion): boolean {
  const { trigger } = program.definition
  return trigger.kind === 'event' && trigger.event === type && isFromTo(trigger, change)
}

/** True for a change from and to a status that a trigger asks for; any where it asks for none. */
export function isFromTo(
  { from, to }: Pick<EventTrigger, 'from' | 'to'>,
  change: { from: string | null; to: string } | null,
): boolean {
  if (from && from.length > 0 && !from.includes(change?.from ?? '')) return false
  return !to || to.length === 0 || to.includes(change?.to ?? '')
}

/**
 * Does an occasion start a run? In this order: age, trigger filter, entry rule, exclusions that make
 * people leave (one that only skips a step keeps nobody out). `entered`, or `turnedAway` with the
 * first reason. The trigger itself is asked before, with `matchesTrigger`.
 */
export function considerStart(
  program: Program,
  occasion: Pick<Occasion, 'at' | 'cause'>,
  facts: Facts,
  earlier: EntryHistory,
): Extract<Decision, { kind: 'entered' | 'turnedAway' }> {
  const { at } = occasion
  const cause = reckoned(occasion.cause, facts)
  const turnedAway = (reason: TurnAwayReason, before: Observation[]) =>
    ({ kind: 'turnedAway', reason, cause, before }) as const
  if (cause.by === 'event' && facts.now - at > TOO_OLD_DAYS * DAY_MS) {
    return turnedAway({ code: 'tooOld', happenedAt: at }, [])
  }
  const asked = { facts, enteredAt: at }
  const observed = program.filter?.observe(asked) ?? []
  if (program.filter && !program.filter.holds(asked)) {
    return turnedAway({ code: 'filter', observed }, [])
  }
  const overridden = cause.by === 'hand' && cause.overridden
  const refused = overridden ? null : entryRefusal(program, at, facts, earlier)
  if (refused) return turnedAway(refused, observed)
  const held = heldExclusion(program, asked, 'leave')
  if (held) {
    const reason = {
      code: 'exclusion',
      exclusion: held.exclusion.key,
      observed: held.observed,
    } as const
    return turnedAway(reason, [...observed, ...held.before])
  }
  const leaves = program.exclusions.filter(({ effect }) => effect === 'leave')
  const seen = leaves.flatMap(({ when }) => when.observe(asked))
  const lateMs = facts.now - at
  return {
    kind: 'entered',
    cause,
    observed: [...observed, ...seen],
    ...(lateMs > 0 && { lateMs }),
  }
}

/** A date that was reckoned comes with what it was reckoned from, so that it can be told later. */
function reckoned(cause: EntryCause, { line }: Facts): EntryCause {
  const isReorder = cause.by === 'date' && cause.field === 'line.reorderAt'
  return isReorder && line?.reorder ? { ...cause, reorder: line.reorder } : cause
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
