import { sameDocument } from '../../../core/shared/sameDocument.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import type { History } from './history.ts'

/** What can be undone of the workflow that was edited last, for whoever comes back to it from another page. */
let last: { id: string; history: History } | null = null

export function keepHistory(id: string, history: History): void {
  last = { id, history: { ...history, typing: null } }
}

/** A draft with what can be undone of it: only if it still is what was left, or undoing would take away others' work. */
export function historyOf(id: string, present: Definition): History {
  if (last?.id === id && sameDocument(last.history.present, present)) {
    return { ...last.history, present }
  }
  return { past: [], present, future: [], typing: null }
}
