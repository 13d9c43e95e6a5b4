import type { WorkflowListItem } from '../../../contract/workflows.ts'
import { findField } from '../../../core/conditions/fields.ts'
import { type EventType } from '../../../core/events/eventTypes.ts'
import { EVENT_WORDS } from '../../../core/words/eventWords.ts'

/**
 * The columns of the list, in their order. Figures are sorted from the largest down at first. A phone has
 * room for what a day starts with.
 */
export const COLUMNS = {
  name: { head: 'Workflow', isFigure: false, onPhone: true },
  startsWhen: { head: 'Starts when', isFigure: false, onPhone: false },
  state: { head: 'State', isFigure: false, onPhone: true },
  inProgress: { head: 'In progress', isFigure: true, onPhone: true },
  nextDueAt: { head: 'Next step due', isFigure: true, onPhone: false },
  entered: { head: 'Entered', isFigure: true, onPhone: false },
  sent: { head: 'Sent', isFigure: true, onPhone: false },
  skipped: { head: 'Skipped', isFigure: true, onPhone: false },
  left: { head: 'Left', isFigure: true, onPhone: false },
  revenueMinor: { head: 'Revenue', isFigure: true, onPhone: true },
} as const
export type Column = keyof typeof COLUMNS

/** Over how many of the last days figures can be counted. */
export const SPANS = [7, 30, 90, 365] as const

/** What of the list is shown, and how. */
export interface ListView {
  search: string
  label: string | null
  sort: Column
  down: boolean
  /** Workflows that share a trigger stand together, in the order in which they are tried. */
  byTrigger: boolean
  /** Over how many of the last days the figures count. */
  days: number
}

export interface Group {
  title: string | null
  workflows: WorkflowListItem[]
}

/** The workflows of a view, in groups. */
export function shownWorkflows(all: readonly WorkflowListItem[], view: ListView): Group[] {
  const wanted = view.search.trim().toLowerCase()
  const found = all.filter(
    ({ name, description, startsWhen, labels }) =>
      (view.label === null || labels.includes(view.label)) &&
      `${name} ${description} ${startsWhen} ${labels.join(' ')}`.toLowerCase().includes(wanted),
  )
  if (!view.byTrigger) return [{ title: null, workflows: found.toSorted(comparing(view)) }]
  const groups = new Map<string, WorkflowListItem[]>()
  for (const one of found) groups.set(one.trigger, [...(groups.get(one.trigger) ?? []), one])
  return [...groups]
    .map(([trigger, workflows]) => ({
      title: triggerTitle(trigger),
      // They come from the oldest to the newest, which decides where priorities are the same.
      workflows: workflows.toSorted((a, b) => b.priority - a.priority),
    }))
    .toSorted((a, b) => a.title.localeCompare(b.title))
}

function comparing({ sort, down }: ListView) {
  const sign = down ? -1 : 1
  return (a: WorkflowListItem, b: WorkflowListItem): number => {
    const [first, second] = [valueOf(a, sort), valueOf(b, sort)]
    // Whatever the direction, what has no value stands last.
    if (first === null || second === null) return Number(first === null) - Number(second === null)
    const order =
      typeof first === 'number' && typeof second === 'number'
        ? first - second
        : String(first).localeCompare(String(second))
    return sign * order || a.name.localeCompare(b.name)
  }
}

function valueOf(workflow: WorkflowListItem, column: Column): string | number | null {
  if (column === 'name' || column === 'startsWhen' || column === 'state') return workflow[column]
  return column === 'revenueMinor' ? workflow.earned.revenueMinor : workflow.numbers[column]
}

/** What the workflows of a trigger are called together. */
export function triggerTitle(trigger: string): string {
  const event = EVENT_WORDS[trigger as EventType] as { label: string } | undefined
  return event?.label ?? findField(trigger)?.label ?? trigger
}

/** The labels that are in use, in order. */
export function labelsOf(workflows: readonly WorkflowListItem[]): string[] {
  return [...new Set(workflows.flatMap(({ labels }) => labels))].toSorted((a, b) =>
    a.localeCompare(b),
  )
}
