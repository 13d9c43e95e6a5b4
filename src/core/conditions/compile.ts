import type { EventType } from '../events/eventTypes.ts'
import type { Facts, PastEvent } from '../events/facts.ts'
import { assertNever } from '../shared/assertNever.ts'
import { DAY_MS } from '../shared/duration.ts'
import type { Instant } from '../shared/time.ts'
import type { Condition, FieldCondition, HistoryCondition } from './condition.ts'
import { findField, type FieldValue } from './fields.ts'
import { compileOperator } from './operators.ts'

/** What a condition is asked about: the facts of the moment, and where the run came from. */
export interface Asked {
  facts: Facts
  /** The time of the triggering event. */
  enteredAt: Instant
}

/** A fact that a condition looked at, as the ledger keeps it. */
export type Observation =
  | { kind: 'field'; field: string; value: FieldValue }
  | {
      kind: 'history'
      event: EventType
      about: 'subject' | 'customer'
      count: number
      lastAt: Instant | null
    }

/** A condition ready to be asked. */
export interface CompiledCondition {
  holds: (asked: Asked) => boolean
  /** The facts the condition rests on, for the ledger. */
  observe: (asked: Asked) => Observation[]
  /** The event types it counts, so that a driver fetches no others. */
  counts: ReadonlySet<EventType>
}

/** Turns a condition into closures. Expects one that the document schema has accepted. */
export function compileCondition(condition: Condition): CompiledCondition {
  switch (condition.kind) {
    case 'all':
      return group(condition.of.map(compileCondition), (parts, asked) =>
        parts.every((part) => part.holds(asked)),
      )
    case 'any':
      return group(condition.of.map(compileCondition), (parts, asked) =>
        parts.some((part) => part.holds(asked)),
      )
    case 'not':
      return group([compileCondition(condition.of)], (parts, asked) => !parts[0]?.holds(asked))
    case 'field':
      return compileField(condition)
    case 'history':
      return compileHistory(condition)
    default:
      return assertNever(condition, 'condition')
  }
}

function group(
  parts: CompiledCondition[],
  holds: (parts: CompiledCondition[], asked: Asked) => boolean,
): CompiledCondition {
  return {
    holds: (asked) => holds(parts, asked),
    observe: (asked) => parts.flatMap((part) => part.observe(asked)),
    counts: new Set(parts.flatMap((part) => [...part.counts])),
  }
}

function compileField(condition: FieldCondition): CompiledCondition {
  const field = findField(condition.field)
  if (!field) throw new RangeError(`Unknown field "${condition.field}"`)
  const test = compileOperator(condition.op, condition.value)
  return {
    holds: ({ facts }) => test(field.read(facts)),
    observe: ({ facts }) => [{ kind: 'field', field: field.key, value: field.read(facts) }],
    counts: new Set(),
  }
}

function compileHistory(condition: HistoryCondition): CompiledCondition {
  const { event, about, count } = condition
  return {
    holds: (asked) => {
      const times = matchingEvents(condition, asked).length
      if (count.op === 'atLeast') return times >= count.times
      return count.op === 'atMost' ? times <= count.times : times === count.times
    },
    observe: (asked) => {
      const found = matchingEvents(condition, asked)
      const lastAt = found.length === 0 ? null : Math.max(...found.map((past) => past.at))
      return [{ kind: 'history', event, about, count: found.length, lastAt }]
    },
    counts: new Set([event]),
  }
}

function matchingEvents(condition: HistoryCondition, { facts, enteredAt }: Asked): PastEvent[] {
  const after = windowStart(condition, facts.now, enteredAt)
  const orderId = facts.order?.id ?? null
  return facts.history.filter(
    (past) =>
      past.type === condition.event &&
      past.at > after &&
      past.at <= facts.now &&
      (condition.about === 'customer' || past.orderId === orderId),
  )
}

/** The instant after which events count. The last N days are N times 24 hours. */
function windowStart(condition: HistoryCondition, now: Instant, enteredAt: Instant): Instant {
  switch (condition.window.kind) {
    case 'ever':
      return -Infinity
    case 'sinceEntry':
      return enteredAt
    case 'lastDays':
      return now - condition.window.days * DAY_MS
    default:
      return assertNever(condition.window, 'window')
  }
}
