import { sameDocument } from '../../core/shared/sameDocument.ts'
import type { Item } from '../../core/timetable/layout.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { allSteps, listsOf } from '../../core/workflow/lists.ts'
import { isBranching } from '../../core/workflow/steps.ts'

/** What the inspector shows. */
export type Selection =
  | { kind: 'workflow' }
  | { kind: 'versions' }
  | { kind: 'trigger' }
  | { kind: 'entry' }
  | { kind: 'exclusions' }
  | { kind: 'step'; key: string }
  | { kind: 'branch'; branching: string; branch: string | null }
  /** A column of the timetable: the waits that lead to it, by their keys. */
  | { kind: 'moment'; waits: string[] }

/** What selecting an item on the timetable shows, or null for what is only drawn. */
export function selectionOf(item: Item): Selection | null {
  if (item.kind === 'start') return { kind: 'trigger' }
  if (item.kind === 'branch')
    return { kind: 'branch', branching: item.branching ?? '', branch: item.key }
  if (item.kind === 'join' || item.key === null) return null
  return { kind: 'step', key: item.key }
}

/** True when both are the same thing. */
export function sameSelection(a: Selection, b: Selection): boolean {
  return a.kind === b.kind && sameDocument(a, b)
}

const WHOLE: Selection = { kind: 'workflow' }

/** What is selected of a draft: the whole, where an undo or somebody else has taken away what was. */
export function selectedOf(chosen: Selection, { steps }: Definition): Selection {
  if (chosen.kind !== 'step' && chosen.kind !== 'branch') return chosen
  const key = chosen.kind === 'step' ? chosen.key : chosen.branching
  const step = allSteps(steps).find((one) => one.key === key)
  if (!step) return WHOLE
  if (chosen.kind === 'step') return chosen
  const isThere = isBranching(step) && listsOf(step).some(({ branch }) => branch === chosen.branch)
  return isThere ? chosen : WHOLE
}
