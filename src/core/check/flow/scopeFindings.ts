import type { Condition, HistoryCondition } from '../../conditions/condition.ts'
import { mapTests } from '../../conditions/mapTests.ts'
import { subjectKindOf, type EventType } from '../../events/eventTypes.ts'
import { isBeginning } from '../../events/oncePer.ts'
import type { Definition } from '../../workflow/definition.ts'
import { allSteps } from '../../workflow/lists.ts'
import { isMessage } from '../../workflow/steps.ts'
import { subjectOf } from '../../workflow/trigger.ts'
import { conditionsOf, mapConditions } from './conditionsOf.ts'
import { advises, stops, type Finding } from '../finding.ts'
import { EVENT_WORDS } from '../../words/eventWords.ts'

/** Counts of events that ask about the wrong one: this order where it must be any, or the other way round. */
export function scopeFindings(definition: Definition): Finding[] {
  return [...neverFindings(definition), ...olderFindings(definition)]
}

/** "This order was placed since entry": it was placed before, and is not placed again. */
const canNeverHold = (test: HistoryCondition): boolean =>
  test.about === 'subject' &&
  isBeginning(test.event) &&
  test.window.kind === 'sinceEntry' &&
  test.count.op !== 'atMost' &&
  test.count.times > 0

function neverFindings(definition: Definition): Finding[] {
  return conditionsOf(definition).flatMap(({ condition, place }) =>
    historiesIn(condition)
      .filter(canNeverHold)
      .slice(0, 1)
      .map((test) => {
        const kind = subjectKindOf(test.event)
        const { label, past } = EVENT_WORDS[test.event]
        const title = `“This ${kind} was ${past} since entry” can never hold.`
        const detail = `That has happened before anybody enters, and happens once. Ask whether any ${kind} of theirs was.`
        const mend = (before: Definition) =>
          mapConditions(before, (one) =>
            mapTests(one, (other) =>
              other.kind === 'history' && canNeverHold(other)
                ? { ...other, about: 'customer' }
                : other,
            ),
          )
        const repair = { label: `Ask about any ${label}`, mend }
        return { ...stops('never-since-entry', place, title, detail), repair }
      }),
  )
}

/** What an order goes through on its way; that some order of theirs has done so says nothing of this one. */
const PROGRESS: ReadonlySet<EventType> = new Set<EventType>([
  'order.paid',
  'order.processing',
  'order.fulfilled',
  'order.delivered',
  'order.completed',
])

const holdsOfOlderOnes = (test: HistoryCondition): boolean =>
  test.about === 'customer' &&
  PROGRESS.has(test.event) &&
  test.window.kind === 'ever' &&
  test.count.op === 'atLeast' &&
  test.count.times === 1

/** "Send only if an order was fulfilled": an old one satisfies it. */
function olderFindings(definition: Definition): Finding[] {
  if (subjectOf(definition.trigger) !== 'order') return []
  return allSteps(definition.steps).flatMap((step) => {
    if (!isMessage(step) || !step.onlyIf) return []
    const test = historiesIn(step.onlyIf).find(holdsOfOlderOnes)
    if (!test) return []
    const title = `“${step.name}” is sent if any order of theirs was ever ${EVENT_WORDS[test.event].past}.`
    const detail = 'An old order satisfies that, too. Most often this order is meant.'
    const mend = (before: Definition) =>
      mapConditions(before, (one) =>
        mapTests(one, (other) =>
          other.kind === 'history' && holdsOfOlderOnes(other)
            ? { ...other, about: 'subject' }
            : other,
        ),
      )
    const repair = { label: 'Ask about this order', mend }
    return [{ ...advises('older-order', { kind: 'step', key: step.key }, title, detail), repair }]
  })
}

function historiesIn(condition: Condition): HistoryCondition[] {
  const found: HistoryCondition[] = []
  mapTests(condition, (test) => {
    if (test.kind === 'history') found.push(test)
    return test
  })
  return found
}
