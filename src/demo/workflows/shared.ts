import type { Condition } from '../../core/conditions/condition.ts'
import type { EventType } from '../../core/events/eventTypes.ts'
import type { Definition, Exclusion } from '../../core/workflow/definition.ts'
import type { EmailStep } from '../../core/workflow/steps.ts'

export const MAREN = { name: 'Maren at Combwright', address: 'maren@combwright.example' }
export const TIAGO = { name: 'Tiago at Combwright', address: 'care@combwright.example' }
export const SHOP_SENDER = { name: 'Combwright', address: 'hello@combwright.example' }

/** "This happened to the order since entry." */
export function happened(event: EventType, about: 'subject' | 'customer' = 'subject'): Condition {
  return {
    kind: 'history',
    event,
    about,
    count: { op: 'atLeast', times: 1 },
    window: { kind: 'sinceEntry' },
  }
}

/** "It is the customer's order number `times`." */
export function orderNumberIs(times: number): Condition {
  return {
    kind: 'history',
    event: 'order.placed',
    about: 'customer',
    count: { op: 'exactly', times },
    window: { kind: 'ever' },
  }
}

export const anyCollection = (...names: string[]): Condition => ({
  kind: 'field',
  field: 'order.collections',
  op: 'hasAny',
  value: names,
})

export const allCollections = (...names: string[]): Condition => ({
  kind: 'field',
  field: 'order.collections',
  op: 'hasAll',
  value: names,
})

export const leaveIf = (key: string, when: Condition): Exclusion => ({ key, when, effect: 'leave' })

/** A message with the parts that most of the demo's have. */
export function message(
  key: string,
  name: string,
  parts: Pick<EmailStep, 'subject' | 'body' | 'sender'> & Partial<EmailStep>,
): EmailStep {
  return {
    key,
    kind: 'email',
    name,
    purpose: 'marketing',
    format: 'letter',
    previewText: '',
    ...parts,
  }
}

/** A workflow document with the parts that most of the demo's have. */
export function workflow(
  parts: Pick<Definition, 'name' | 'description' | 'trigger' | 'steps'> & Partial<Definition>,
): Definition {
  return {
    format: 'yomble.workflow',
    formatVersion: 1,
    priority: 50,
    entry: { rule: { kind: 'every' }, overlap: 'allow' },
    exclusions: [],
    ...parts,
  }
}
