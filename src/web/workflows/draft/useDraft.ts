import {
  useCallback,
  useDeferredValue,
  useEffect,
  useMemo,
  useReducer,
  useState,
  useSyncExternalStore,
} from 'react'
import {
  saveDraftResponse,
  workflowResponse,
  type WorkflowResponse,
} from '../../../contract/workflows.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson, sendJson } from '../../ui/data/api.ts'
import { settleTyped } from '../../ui/hooks/typed.ts'
import { useLatest } from '../../ui/hooks/useLatest.ts'
import { DraftSaver, type SaveState } from './draftSaver.ts'
import { keep, keptDraft } from './keptDraft.ts'
import { historyReducer, type HistoryAction } from './history.ts'
import { historyOf, keepHistory } from './keptHistory.ts'

/**
 * The sides of the screen. The one that an edit is made on shows it at once, the other in the next
 * frame: drawn together, both would be late.
 */
export type Side = 'plan' | 'form' | 'both'

export interface Draft extends DraftActions {
  definition: Definition
  /** The same, a frame later: for what need not answer at once. */
  later: Definition
  /** The side that answers the last edit. */
  first: Side
  save: SaveState
  canUndo: boolean
  canRedo: boolean
}

/** What can be done with a draft: the same functions for as long as it is open. */
export interface DraftActions {
  /**
   * Changes the draft from one side of the screen. Changes with the same `touching` that follow on
   * one another are undone together.
   */
  change: (to: Definition, touching?: string, from?: Side) => void
  /** Changes the draft as it is by now. */
  edit: (make: (before: Definition) => Definition) => void
  undo: (from?: Side) => void
  redo: (from?: Side) => void
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

function makeSaver({ id, draft, draftRevision }: WorkflowResponse): DraftSaver {
  return new DraftSaver({
    draft,
    revision: draftRevision,
    put: async (revision, definition) => {
      const path = `/api/workflows/${id}/draft`
      const answer = await sendJson('PUT', path, saveDraftResponse, { revision, definition })
      return answer.draftRevision
    },
    keep: (kept) => keep(id, kept),
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
    const leave = () => {
      settleTyped()
      offer()
    }
    window.addEventListener('pagehide', leave)
    return () => {
      window.removeEventListener('pagehide', leave)
      offer()
      saver.leave()
    }
  }, [saver, latest])
  return state.kind === 'saved' && !saver.knows(present) ? SAVING : state
}

const SAVING: SaveState = { kind: 'saving' }

/**
 * The draft of a workflow while it is edited: undo and redo without limit, saved as it is typed,
 * kept in this browser until the server has it. Who leaves the page and comes back can still undo.
 */
export function useDraft(workflow: WorkflowResponse): Draft {
  const { id } = workflow
  const [saver] = useState(() => makeSaver(workflow))
  const [history, dispatch] = useReducer(historyReducer, null, () =>
    historyOf(id, keptDraft(workflow) ?? workflow.draft),
  )
  const { present } = history
  const latestHistory = useLatest(history)
  useEffect(() => () => keepHistory(id, latestHistory.current), [id, latestHistory])
  const save = useSaved(saver, present)
  const [first, setFirst] = useState<Side>('both')
  const later = useDeferredValue(present)
  const latest = useLatest({ present, isBehind: later !== present })

  const act = useCallback(
    (action: HistoryAction, from: Side) => {
      const { isBehind } = latest.current
      // What one side has shown already must not go from it while the other catches up.
      setFirst((before) => (isBehind && before !== from ? 'both' : from))
      dispatch(action)
    },
    [latest],
  )
  const offer = useCallback(() => {
    settleTyped()
    saver.offer(latest.current.present)
  }, [saver, latest])
  const actions = useMemo(
    (): DraftActions => ({
      change: (to, touching, from = 'plan') => {
        const typed = touching === undefined ? null : { into: touching, at: performance.now() }
        act({ kind: 'change', to, typed }, from)
      },
      edit: (make) =>
        act({ kind: 'change', to: make(latest.current.present), typed: null }, 'plan'),
      undo: (from = 'plan') => act({ kind: 'undo' }, from),
      redo: (from = 'plan') => act({ kind: 'redo' }, from),
      flush: () => {
        offer()
        return saver.flush()
      },
      ...besideOthers(id, saver, {
        offer,
        show: (theirs) => act({ kind: 'replace', to: theirs }, 'both'),
      }),
    }),
    [act, latest, offer, saver, id],
  )
  return {
    ...actions,
    definition: present,
    later,
    first,
    save,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
  }
}

/** What is done where somebody else changes the same draft. */
function besideOthers(
  id: string,
  saver: DraftSaver,
  /** Tells the saver what is on the screen; shows another draft there. */
  { offer, show }: { offer: () => void; show: (theirs: Definition) => void },
): Pick<DraftActions, 'takeTheirs' | 'follow' | 'keepMine'> {
  const fetchTheirs = () => getJson(`/api/workflows/${id}`, workflowResponse)
  return {
    takeTheirs: async () => {
      const theirs = await fetchTheirs()
      saver.adopt(theirs.draft, theirs.draftRevision)
      show(theirs.draft)
    },
    follow: async (revision) => {
      offer()
      if (!saver.isBehind(revision)) return false
      const theirs = await fetchTheirs()
      // Something may have been typed meanwhile, even just now; then saving it tells of the conflict.
      offer()
      if (!saver.isBehind(theirs.draftRevision)) return false
      saver.adopt(theirs.draft, theirs.draftRevision)
      show(theirs.draft)
      return true
    },
    keepMine: async () => {
      const theirs = await fetchTheirs()
      await saver.replace(theirs.draft, theirs.draftRevision)
    },
  }
}
