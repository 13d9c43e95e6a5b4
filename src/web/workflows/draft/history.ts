import type { Definition } from '../../../core/workflow/definition.ts'

/** A draft with all that can be undone and redone. A value: every change makes a new one. */
export interface History {
  past: readonly Definition[]
  present: Definition
  future: readonly Definition[]
  /** What is being typed into; null after anything else. */
  typing: Typing | null
}

/** Changes to the same thing that follow on one another are undone together. */
interface Typing {
  into: string
  /** When it began and when it last went on, in milliseconds of a clock that only runs. */
  since: number
  last: number
}

/** Who stops for longer has finished a thought, and undoes what comes then by itself. */
const PAUSE_MS = 1000
/** Who never stops would lose a whole text by one key. */
const LONGEST_MS = 10_000

export type HistoryAction =
  /** A change by typing says into what, and when. */
  | { kind: 'change'; to: Definition; typed: { into: string; at: number } | null }
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

/** With a change that is undone by itself, or together with what was typed before. */
function changed(
  { past, present, typing }: History,
  { to, typed }: Extract<HistoryAction, { kind: 'change' }>,
): History {
  const goesOn =
    typing !== null &&
    typed?.into === typing.into &&
    typed.at - typing.last < PAUSE_MS &&
    typed.at - typing.since < LONGEST_MS &&
    sameShape(present, to)
  return {
    past: goesOn ? past : [...past, present],
    present: to,
    future: [],
    typing: typed && {
      into: typed.into,
      since: goesOn ? typing.since : typed.at,
      last: typed.at,
    },
  }
}

/** Applies one action. */
export function historyReducer(history: History, action: HistoryAction): History {
  const { past, present, future } = history
  switch (action.kind) {
    case 'change':
      return action.to === present ? history : changed(history, action)
    case 'undo': {
      const previous = past.at(-1)
      if (!previous) return history
      return {
        past: past.slice(0, -1),
        present: previous,
        future: [present, ...future],
        typing: null,
      }
    }
    case 'redo': {
      const [next, ...rest] = future
      if (!next) return history
      return { past: [...past, present], present: next, future: rest, typing: null }
    }
    case 'replace':
      return { past: [], present: action.to, future: [], typing: null }
  }
}
