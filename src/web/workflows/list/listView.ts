import type { WorkflowListItem } from '../../../contract/workflows.ts'
import { findField } from '../../../core/conditions/fields.ts'
import { type EventType } from '../../../core/events/eventTypes.ts'
import { EVENT_WORDS } from '../../../core/words/eventWords.ts'

export type Column =
  | 'name'
  | 'startsWhen'
  | 'state'
  | 'inProgress'
  | 'nextDueAt'
  | 'entered'
  | 'sent'
  | 'skipped'
  | 'left'
  | 'revenueMinor'

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

/** The workflows of a view; by trigger in the order in which they are tried, else as they came. */
export function shownWorkflows(
  all: readonly WorkflowListItem[],
  { search, label, byTrigger }: Pick<ListView, 'search' | 'label' | 'byTrigger'>,
): WorkflowListItem[] {
  const wanted = search.trim().toLowerCase()
  const found = all.filter(
    ({ name, description, startsWhen, labels }) =>
      (label === null || labels.includes(label)) &&
      `${name} ${description} ${startsWhen} ${labels.join(' ')}`.toLowerCase().includes(wanted),
  )
  if (!byTrigger) return found
  return found.toSorted(
    (a, b) =>
      triggerTitle(a.trigger).localeCompare(triggerTitle(b.trigger)) ||
      // They come from the oldest to the newest, which decides where priorities are the same.
      b.priority - a.priority,
  )
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
