import type { Condition } from '../../core/conditions/condition.ts'
import type { Definition, SplitBranch, Step } from '../../core/workflow/definition.ts'
import { freshKey } from '../../core/workflow/edit.ts'

export const STEP_KINDS = [
  { kind: 'email', label: 'Email', hint: 'a message to the customer' },
  { kind: 'wait', label: 'Wait', hint: 'time passes' },
  { kind: 'split', label: 'Split', hint: 'different people, different paths' },
  { kind: 'end', label: 'End', hint: 'this path stops here' },
] as const
export type StepKind = (typeof STEP_KINDS)[number]['kind']

export interface Sender {
  name: string
  address: string
}

/** A new step of a kind, with a key of its own. */
export function newStep(definition: Definition, kind: StepKind, sender: Sender): Step {
  const key = freshKey(definition, kind)
  switch (kind) {
    case 'wait':
      return { key, kind, for: 'P1D' }
    case 'end':
      return { key, kind }
    case 'email':
      return {
        key,
        kind,
        name: 'New message',
        purpose: 'marketing',
        format: 'letter',
        sender,
        subject: '',
        previewText: '',
        body: '',
      }
    case 'split':
      return { key, kind, branches: [newBranch(definition, 1)], otherwise: [] }
  }
}

const ORDINALS = ['First', 'Second', 'Third', 'Fourth', 'Fifth', 'Sixth'] as const

/** A new branch for the nth path of a split: by the number of orders, the split made most often. */
export function newBranch(definition: Definition, position: number): SplitBranch {
  return {
    key: freshKey(definition, 'branch'),
    name: `${ORDINALS[position - 1] ?? `${position}th`} order`,
    when: ordersEver(position),
    steps: [],
  }
}

const ordersEver = (times: number): Condition => ({
  kind: 'history',
  event: 'order.placed',
  about: 'customer',
  count: { op: 'exactly', times },
  window: { kind: 'ever' },
})

/** "This order was cancelled since entry": the exclusion to begin with. */
export const ORDER_CANCELLED: Condition = {
  kind: 'history',
  event: 'order.cancelled',
  about: 'subject',
  count: { op: 'atLeast', times: 1 },
  window: { kind: 'sinceEntry' },
}

/** A workflow with nothing in it yet. */
export function blankDefinition(): Definition {
  return {
    format: 'yomble.workflow',
    formatVersion: 1,
    name: 'New workflow',
    description: '',
    priority: 50,
    trigger: { event: 'order.placed' },
    entry: { rule: { kind: 'every' }, overlap: 'allow' },
    exclusions: [],
    steps: [],
  }
}
