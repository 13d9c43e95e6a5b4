import type { WorkflowListItem } from '../../contract/workflows.ts'

/** Of a workflow that nobody has entered yet. */
export const NO_NUMBERS: Omit<WorkflowListItem['numbers'], 'nextDueAt'> = {
  inProgress: 0,
  entered: 0,
  turnedAway: 0,
  sent: 0,
  skipped: 0,
  left: 0,
  needAttention: 0,
}

type Over = Partial<Omit<WorkflowListItem, 'numbers'>> & {
  numbers?: Partial<WorkflowListItem['numbers']>
}

/** A workflow of the list: live, with nothing in it yet, called like its id. */
export function listItem(id: string, { numbers, ...over }: Over = {}): WorkflowListItem {
  return {
    id,
    name: id,
    description: '',
    labels: [],
    state: 'live',
    priority: 50,
    trigger: 'order.placed',
    startsWhen: 'order placed',
    liveVersion: 1,
    hasUnpublishedChanges: false,
    findings: { errors: 0, warnings: 0 },
    tried: { ways: 0, of: 0, examples: 0 },
    earned: { orders: 0, revenueMinor: 0 },
    changedAt: 0,
    ...over,
    numbers: { ...NO_NUMBERS, nextDueAt: null, ...numbers },
  }
}
