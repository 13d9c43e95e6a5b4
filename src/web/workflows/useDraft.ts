import { useCallback, useEffect, useReducer, useRef, useState } from 'react'
import {
  saveDraftResponse,
  workflowResponse,
  type WorkflowResponse,
} from '../../contract/workflows.ts'
import { definitionSchema, type Definition } from '../../core/workflow/definition.ts'
import { ApiError, getJson, sendJson } from '../ui/api.ts'
import { historyReducer } from './history.ts'

export type SaveState =
  | { kind: 'saved' }
  | { kind: 'saving' }
  /** The server is away: the draft is kept in this browser and sent when it is back. */
  | { kind: 'keptHere'; message: string }
  | { kind: 'refused'; message: string }
  | { kind: 'conflict'; message: string }

export interface Draft {
  definition: Definition
  revision: number
  save: SaveState
  canUndo: boolean
  canRedo: boolean
  /** Changes the draft. Changes with the same `touching` in a row are undone together. */
  change: (to: Definition, touching?: string) => void
  undo: () => void
  redo: () => void
  /** Saves what is not saved yet; resolves to the revision the server has then. */
  flush: () => Promise<number>
  /** After a conflict: takes the server's draft, or puts this one in its place. */
  takeTheirs: () => Promise<void>
  keepMine: () => Promise<void>
}

const SAVE_AFTER_MS = 500
const RETRY_AFTER_MS = 3000

const keptKey = (id: string): string => `yomble.draft.${id}`

/** What an earlier visit could not save, if it still builds on what the server has. */
function keptDraft({ id, draftRevision }: WorkflowResponse): Definition | null {
  const text = localStorage.getItem(keptKey(id))
  if (text === null) return null
  const kept = JSON.parse(text) as { revision: number; definition: unknown }
  const parsed = definitionSchema.safeParse(kept.definition)
  return parsed.success && kept.revision === draftRevision ? parsed.data : null
}

/**
 * The draft of a workflow while it is edited: undo and redo without limit, saved as it is typed,
 * kept in this browser until the server has it.
 */
export function useDraft(workflow: WorkflowResponse): Draft {
  const { id } = workflow
  const [history, dispatch] = useReducer(historyReducer, null, () => ({
    past: [],
    present: keptDraft(workflow) ?? workflow.draft,
    future: [],
    lastTouched: null,
  }))
  const [save, setSave] = useState<SaveState>({ kind: 'saved' })
  const revision = useRef(workflow.draftRevision)
  const onServer = useRef(workflow.draft)
  const latest = useRef(history.present)
  const saving = useRef<Promise<void> | null>(null)
  latest.current = history.present

  const saveOnce = useCallback(async (): Promise<void> => {
    while (latest.current !== onServer.current) {
      const definition = latest.current
      setSave({ kind: 'saving' })
      const body = { revision: revision.current, definition }
      const answer = await sendJson('PUT', `/api/workflows/${id}/draft`, saveDraftResponse, body)
      revision.current = answer.draftRevision
      onServer.current = definition
    }
    localStorage.removeItem(keptKey(id))
    setSave({ kind: 'saved' })
  }, [id])

  /** One save at a time: the next one builds on the revision of the one before. */
  const saveNow = useCallback(async (): Promise<void> => {
    saving.current ??= saveOnce().finally(() => {
      saving.current = null
    })
    await saving.current
  }, [saveOnce])

  useAutosave(id, history.present, { onServer, revision, saveNow, setSave })

  const replace = useCallback((to: Definition, newRevision: number) => {
    revision.current = newRevision
    onServer.current = to
    dispatch({ kind: 'replace', to })
    setSave({ kind: 'saved' })
  }, [])

  return {
    definition: history.present,
    revision: revision.current,
    save,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    change: useCallback(
      (to, touching) => dispatch({ kind: 'change', to, touching: touching ?? null }),
      [],
    ),
    undo: useCallback(() => dispatch({ kind: 'undo' }), []),
    redo: useCallback(() => dispatch({ kind: 'redo' }), []),
    flush: async () => {
      await saveNow()
      return revision.current
    },
    takeTheirs: async () => {
      const theirs = await getJson(`/api/workflows/${id}`, workflowResponse)
      localStorage.removeItem(keptKey(id))
      replace(theirs.draft, theirs.draftRevision)
    },
    keepMine: async () => {
      const theirs = await getJson(`/api/workflows/${id}`, workflowResponse)
      revision.current = theirs.draftRevision
      onServer.current = theirs.draft
      await saveNow()
    },
  }
}

interface Autosave {
  onServer: { readonly current: Definition }
  revision: { readonly current: number }
  saveNow: () => Promise<void>
  setSave: (state: SaveState) => void
}

/** Keeps a changed draft in this browser at once, and sends it when typing pauses. */
function useAutosave(id: string, definition: Definition, autosave: Autosave): void {
  const { onServer, revision, saveNow, setSave } = autosave
  useEffect(() => {
    if (definition === onServer.current) return undefined
    localStorage.setItem(keptKey(id), JSON.stringify({ revision: revision.current, definition }))
    let timer = 0
    const attempt = () => {
      saveNow().catch((error: Error) => {
        const state = failureState(error)
        setSave(state)
        if (state.kind === 'keptHere') timer = window.setTimeout(attempt, RETRY_AFTER_MS)
      })
    }
    timer = window.setTimeout(attempt, SAVE_AFTER_MS)
    return () => window.clearTimeout(timer)
  }, [id, definition, onServer, revision, saveNow, setSave])
}

function failureState(error: Error): SaveState {
  if (!(error instanceof ApiError)) return { kind: 'keptHere', message: error.message }
  const problems = error.body.problems.map(({ path, message }) => `${path} ${message}`)
  const message = [error.message, ...problems].join(' ')
  return { kind: error.status === 409 ? 'conflict' : 'refused', message }
}
