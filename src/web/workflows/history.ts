import type { Definition } from '../../core/workflow/definition.ts'

/** A draft with all that can be undone and redone. A value: every change makes a new one. */
export interface History {
  past: readonly Definition[]
  present: Definition
  future: readonly Definition[]
  /** What the last change was to; changes to the same thing in a row are undone together. */
  lastTouched: string | null
}

export type HistoryAction =
  | { kind: 'change'; to: Definition; touching: string | null }
  | { kind: 'undo' }
  | { kind: 'redo' }
  | { kind: 'replace'; to: Definition }

/**
 * True when two documents differ in texts and numbers alone: the same while somebody types, another
 * once a part comes or goes. What two states of a draft share is not looked into.
 */
function sameShape(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== typeof b || a === null || b === null) return false
  if (typeof a !== 'object' || typeof b !== 'object') return typeof a !== 'boolean'
  const keys = Object.keys(a)
  return (
    keys.length === Object.keys(b).length &&
    keys.every((key) => key in b && sameShape((a as never)[key], (b as never)[key]))
  )
}

/** Applies one action. */
export function historyReducer(history: History, action: HistoryAction): History {
  const { past, present, future } = history
  switch (action.kind) {
    case 'change': {
      if (action.to === present) return history
      const together =
        action.touching !== null &&
        action.touching === history.lastTouched &&
        sameShape(present, action.to)
      return {
        past: together ? past : [...past, present],
        present: action.to,
        future: [],
        lastTouched: action.touching,
      }
    }
    case 'undo': {
      const previous = past.at(-1)
      if (!previous) return history
      return {
        past: past.slice(0, -1),
        present: previous,
        future: [present, ...future],
        lastTouched: null,
      }
    }
    case 'redo': {
      const [next, ...rest] = future
      if (!next) return history
      return { past: [...past, present], present: next, future: rest, lastTouched: null }
    }
    case 'replace':
      return { past: [], present: action.to, future: [], lastTouched: null }
  }
}
