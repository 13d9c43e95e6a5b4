import type { PastEvent } from '../events/facts.ts'
import { subjectKindOf } from '../events/eventTypes.ts'
import type { Asked, CompiledCondition, CompiledTest } from './compiled.ts'
import type { HistoryCondition } from './condition.ts'
import { isCount } from './observation.ts'
import { isWithin, spanOf } from './window.ts'

/** "Did `event` so many times in a span of time", counted over the customer's events. */
export function compileHistory(
  condition: HistoryCondition,
  where: CompiledCondition | null,
): CompiledTest {
  const { event, about, count } = condition
  return {
    look: (asked) => {
      let found = 0
      let lastAt = -Infinity
      for (const { at } of matchingEvents(condition, where, asked)) {
        found += 1
        lastAt = Math.max(lastAt, at)
      }
      return { kind: 'history', event, about, count: found, lastAt: found === 0 ? null : lastAt }
    },
    test: (seen) => seen.kind === 'history' && isCount(count, seen.count),
    needs: {
      events: new Map([[event, where !== null]]),
      entries: false,
      messages: false,
    },
  }
}

/** The events of the past that a history condition counts, in no order. */
function matchingEvents(
  condition: Pick<HistoryCondition, 'event' | 'about' | 'window'>,
  where: CompiledCondition | null,
  { facts, enteredAt }: Asked,
): PastEvent[] {
  const span = spanOf(condition.window, facts.now, enteredAt, facts.shop.zone)
  return facts.history.filter(
    (past) =>
      past.type === condition.event &&
      isWithin(past.at, span) &&
      (condition.about === 'customer' || isAboutSubject(past, facts)) &&
      (where === null || isLike(past, where, { facts, enteredAt })),
  )
}

/** True when an event is about the very thing a run is about. Ids of two kinds may be alike. */
export function isAboutSubject(past: PastEvent, { subject }: Asked['facts']): boolean {
  return past.subjectId === subject.id && subjectKindOf(past.type) === subject.kind
}

/** True when what an event was about is as a condition asks. */
export function isLike(past: PastEvent, where: CompiledCondition, asked: Asked): boolean {
  if (!past.entity) return false
  return where.holds({ ...asked, facts: { ...asked.facts, ...past.entity } })
}
