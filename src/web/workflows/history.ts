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

/** A document without its texts and numbers: the same while somebody types, another once a part comes or goes. */
function shapeOf(definition: Definition): string {
  return JSON.stringify(definition, (_key, value: unknown) =>
    typeof value === 'string' || typeof value === 'number' ? typeof value : value,
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
        shapeOf(present) === shapeOf(action.to)
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
