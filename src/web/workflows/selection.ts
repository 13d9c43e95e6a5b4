import type { Item } from '../../core/timetable/layout.ts'

/** What the inspector shows. */
export type Selection =
  | { kind: 'workflow' }
  | { kind: 'trigger' }
  | { kind: 'entry' }
  | { kind: 'exclusions' }
  | { kind: 'step'; key: string }
  | { kind: 'branch'; split: string; branch: string | null }

/** What selecting an item on the timetable shows, or null for what is only drawn. */
export function selectionOf(item: Item): Selection | null {
  switch (item.kind) {
    case 'start':
      return { kind: 'trigger' }
    case 'join':
      return null
    case 'branch':
      return { kind: 'branch', split: item.split ?? '', branch: item.key }
    case 'end':
      return item.key === null ? null : { kind: 'step', key: item.key }
    case 'wait':
    case 'email':
    case 'split':
      return { kind: 'step', key: item.key ?? '' }
  }
}

/** True when the item is what is selected. */
export function isSelected(item: Item, selection: Selection): boolean {
  const own = selectionOf(item)
  return own !== null && JSON.stringify(own) === JSON.stringify(selection)
}
