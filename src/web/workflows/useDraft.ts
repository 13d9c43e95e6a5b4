import { useCallback, useEffect, useReducer, useState, useSyncExternalStore } from 'react'
import {
  saveDraftResponse,
  workflowResponse,
  type WorkflowResponse,
} from '../../contract/workflows.ts'
import { definitionSchema, type Definition } from '../../core/workflow/definition.ts'
import { getJson, sendJson } from '../ui/api.ts'
import { useLatest } from '../ui/useLatest.ts'
import { DraftSaver, type SaveState } from './draftSaver.ts'
import { historyReducer } from './history.ts'

export interface Draft {
  definition: Definition
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
  /**
   * Takes over what somebody else has saved, if it is later than what is here and nothing here is
   * unsaved. Resolves to whether it did.
   */
  follow: (revision: number) => Promise<boolean>
  keepMine: () => Promise<void>
}

const keptKey = (id: string): string => `yomble.draft.${id}`

/** What an earlier visit could not save, if it still builds on what the server has. */
function keptDraft({ id, draftRevision }: WorkflowResponse): Definition | null {
  const text = localStorage.getItem(keptKey(id))
  if (text === null) return null
  const kept = JSON.parse(text) as { revision: number; definition: unknown }
  const parsed = definitionSchema.safeParse(kept.definition)
  return parsed.success && kept.revision === draftRevision ? parsed.data : null
}

function makeSaver({ id, draft, draftRevision }: WorkflowResponse): DraftSaver {
  return new DraftSaver({
    draft,
    revision: draftRevision,
    put: async (revision, definition) => {
      const path = `/api/workflows/${id}/draft`
      const answer = await sendJson('PUT', path, saveDraftResponse, { revision, definition })
      return answer.draftRevision
    },
    keep: (kept) => {
      if (kept) localStorage.setItem(keptKey(id), JSON.stringify(kept))
      else localStorage.removeItem(keptKey(id))
    },
  })
}

/** Long enough that an edit is on the screen by then. */
const OFFER_AFTER_MS = 50

/**
 * Gives what is on the screen to the saver: once it has been drawn, for keeping a long workflow takes
 * a frame's time; and in any case when the screen or the page goes away.
 */
function useSaved(saver: DraftSaver, present: Definition): SaveState {
  const state = useSyncExternalStore(saver.subscribe, saver.state)
  const latest = useLatest(present)
  useEffect(() => {
    const timer = setTimeout(() => saver.offer(present), OFFER_AFTER_MS)
    return () => clearTimeout(timer)
  }, [saver, present])
  useEffect(() => {
    const offer = () => saver.offer(latest.current)
    window.addEventListener('pagehide', offer)
    return () => {
      window.removeEventListener('pagehide', offer)
      offer()
      saver.leave()
    }
  }, [saver, latest])
  return state.kind === 'saved' && !saver.knows(present) ? SAVING : state
}

const SAVING: SaveState = { kind: 'saving' }

/**
 * The draft of a workflow while it is edited: undo and redo without limit, saved as it is typed,
 * kept in this browser until the server has it.
 */
export function useDraft(workflow: WorkflowResponse): Draft {
  const { id } = workflow
  const [saver] = useState(() => makeSaver(workflow))
  const [history, dispatch] = useReducer(historyReducer, null, () => ({
    past: [],
    present: keptDraft(workflow) ?? workflow.draft,
    future: [],
    lastTouched: null,
  }))
  const { present } = history
  const save = useSaved(saver, present)

  return {
    definition: present,
    save,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    change: useCallback(
      (to, touching) => dispatch({ kind: 'change', to, touching: touching ?? null }),
      [],
    ),
    undo: useCallback(() => dispatch({ kind: 'undo' }), []),
    redo: useCallback(() => dispatch({ kind: 'redo' }), []),
    flush: () => {
      saver.offer(present)
      return saver.flush()
    },
    takeTheirs: async () => {
      const theirs = await getJson(`/api/workflows/${id}`, workflowResponse)
      saver.adopt(theirs.draft, theirs.draftRevision)
      dispatch({ kind: 'replace', to: theirs.draft })
    },
    follow: useCallback(
      async (revision) => {
        if (!saver.isBehind(revision)) return false
        const theirs = await getJson(`/api/workflows/${id}`, workflowResponse)
        // Something may have been typed meanwhile; then saving it tells of the conflict.
        if (!saver.isBehind(theirs.draftRevision)) return false
        saver.adopt(theirs.draft, theirs.draftRevision)
        dispatch({ kind: 'replace', to: theirs.draft })
        return true
      },
      [saver, id],
    ),
    keepMine: async () => {
      const theirs = await getJson(`/api/workflows/${id}`, workflowResponse)
      await saver.replace(theirs.draft, theirs.draftRevision)
    },
  }
}
