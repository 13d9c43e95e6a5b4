import type { WorkflowResponse } from '../../../contract/workflows.ts'
import { sameDocument } from '../../../core/shared/sameDocument.ts'
import { definitionSchema, type Definition } from '../../../core/workflow/definition.ts'

/** A draft as this browser keeps it until the server has it. */
export interface Kept {
  /** The server's revision that it builds on. */
  revision: number
  definition: Definition
  /** What was on its way to the server when this was kept. */
  sending: Definition | null
}

const keyOf = (id: string): string => `yomble.draft.${id}`

/** Keeps a draft, or forgets the one that is kept. */
export function keep(id: string, kept: Kept | null): void {
  if (kept) localStorage.setItem(keyOf(id), JSON.stringify(kept))
  else localStorage.removeItem(keyOf(id))
}

/** What an earlier visit could not save, if it still builds on what the server has; else null. */
export function keptDraft({ id, draft, draftRevision }: WorkflowResponse): Definition | null {
  const text = localStorage.getItem(keyOf(id))
  if (text === null) return null
  const { revision, definition, sending = null } = JSON.parse(text) as Partial<Kept>
  // A save may have arrived although the page had gone before it was told so.
  const hasArrived =
    sending !== null && revision === draftRevision - 1 && sameDocument(sending, draft)
  if (revision !== draftRevision && !hasArrived) return null
  const { data, error } = definitionSchema.safeParse(definition)
  if (!error) return data
  // What the server refused, a text that is too long, was on the screen and can be mended there.
  const canBeShown = error.issues.every(({ code }) => OF_VALUES.has(code))
  return canBeShown ? (definition as Definition) : null
}

/** Problems of what a document says, not of how it is made. */
const OF_VALUES: ReadonlySet<string> = new Set(['too_big', 'too_small', 'invalid_format', 'custom'])
