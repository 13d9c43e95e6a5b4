import type { WorkflowResponse } from '../../contract/workflows.ts'
import { sameDocument } from '../../core/shared/sameDocument.ts'
import { definitionSchema, type Definition } from '../../core/workflow/definition.ts'

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
  const parsed = definitionSchema.safeParse(definition)
  return parsed.success ? parsed.data : null
}
