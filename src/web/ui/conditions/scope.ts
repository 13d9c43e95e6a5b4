import { createContext, useContext } from 'react'
import type { Condition, TestCondition } from '../../../core/conditions/condition.ts'
import { FIELDS, type Field } from '../../../core/conditions/fields.ts'
import { entityOf, type EventType } from '../../../core/events/eventTypes.ts'
import { canKnow, subjectOf, type Trigger } from '../../../core/workflow/trigger.ts'

/** What conditions at a place can ask about. */
export interface ConditionScope {
  /** True for what there is a value of here. */
  has: (field: Pick<Field, 'about' | 'key'>) => boolean
  /** The kinds of test that make sense here. */
  kinds: readonly TestCondition['kind'][]
  /** What "this" is called: "this order". */
  subject: string
  /** It is asked of people by themselves, who have entered no workflow. */
  isOfPeople?: boolean
}

const LINED: ReadonlySet<string> = new Set(['order', 'checkout', 'basket'])

/** Everything that runs of a trigger can be asked about. */
export function scopeOfTrigger(trigger: Trigger): ConditionScope {
  const subject = subjectOf(trigger)
  return {
    has: (field) => canKnow(trigger, field),
    kinds: ['field', 'history', 'lines', 'workflows', 'messages'],
    subject,
  }
}

/** What an event itself can be asked about. */
export function scopeOfEvent(event: EventType): ConditionScope {
  const entity = entityOf(event)
  const isProduct = entity === 'product'
  return {
    has: ({ about, key }) =>
      about === 'line'
        ? (isProduct || entity === 'review') && canKnow({ kind: 'event', event }, { about, key })
        : about === entity,
    kinds: LINED.has(entity) ? ['field', 'lines'] : ['field'],
    subject: entity,
  }
}

/** What people can be asked about by themselves. */
export const PEOPLE_SCOPE: ConditionScope = {
  has: ({ about }) => about === 'customer',
  kinds: ['field', 'history', 'workflows', 'messages'],
  subject: 'customer',
  isOfPeople: true,
}

/** What one line of an order can be asked about. */
export const LINE_SCOPE: ConditionScope = {
  has: ({ about }) => about === 'line',
  kinds: ['field'],
  subject: 'line',
}

const ScopeContext = createContext<ConditionScope>(LINE_SCOPE)
export const ScopeProvider = ScopeContext.Provider

/** What conditions here can ask about. */
export function useScope(): ConditionScope {
  return useContext(ScopeContext)
}

/** The fields that have a value here. */
export function fieldsIn({ has }: ConditionScope): Field[] {
  return FIELDS.filter(has)
}

/** The condition to begin with. */
export function firstCondition(scope: ConditionScope, currency: string): Condition {
  const offered = fieldsIn(scope)
  const first = offered.find(({ about }) => about === scope.subject) ?? offered[0]
  if (!first) return firstTest('history', scope, currency)
  if (first.type === 'money') {
    return { kind: 'field', field: first.key, op: 'gte', value: { amountMinor: 5000, currency } }
  }
  if (first.type === 'number') return { kind: 'field', field: first.key, op: 'gte', value: 1 }
  if (first.choices) {
    const [choice = ''] = Object.keys(first.choices)
    return { kind: 'field', field: first.key, op: 'is', value: choice }
  }
  if (first.type === 'yesNo') return { kind: 'field', field: first.key, op: 'is', value: true }
  return { kind: 'field', field: first.key, op: 'in', value: [] }
}

/** A test of a kind to begin with. */
export function firstTest(
  kind: TestCondition['kind'],
  scope: ConditionScope,
  currency: string,
): Condition {
  switch (kind) {
    case 'field':
      return firstCondition(scope, currency)
    case 'lines':
      return { kind, on: 'subject', how: 'some', of: [aCategory()] }
    case 'workflows':
      return { kind, workflow: 'any', state: 'isIn', window: { kind: 'ever' } }
    case 'messages':
      return { kind, did: 'opened', workflow: 'any', window: { kind: 'lastDays', days: 30 } }
    case 'history':
      return {
        kind,
        event: 'order.placed',
        about: 'customer',
        count: { op: 'atLeast', times: 1 },
        window: { kind: 'ever' },
      }
  }
}

/** "Of a category": the test of a line to begin with. */
export const aCategory = (): Condition => ({
  kind: 'field',
  field: 'line.category',
  op: 'in',
  value: [],
})
