import { Redo2, Undo2, Users } from 'lucide-react'
import type { ReactNode } from 'react'
import type {
  VisitResponse,
  WorkflowNumbersResponse,
  WorkflowResponse,
} from '../../contract/workflows.ts'
import { plural } from '../../core/words/quantities.ts'
import type { Selection } from './selection.ts'
import { StateButtons } from './StateButtons.tsx'
import { StateChip } from './StateChip.tsx'
import type { Draft } from './useDraft.ts'
import { VIEWS, type View } from './useShownAs.ts'

interface Props {
  workflow: WorkflowResponse
  draft: Draft
  numbers: WorkflowNumbersResponse | undefined
  mayEdit: boolean
  onSelect: (selection: Selection) => void
  /** How much the draft differs from what is live. */
  changes: number
  view: View
  onView: (view: View) => void
  /** One of its messages is written: how the whole is shown is not asked. */
  isWriting: boolean
  /** Who else has it open. */
  others: VisitResponse['others']
}

/** The name of a workflow, its state, how it is shown, and what can be done with all of it. */
export function WorkflowHeader(props: Props): ReactNode {
  const { workflow, draft, numbers, mayEdit, onSelect, changes, others, isWriting } = props
  const { view, onView } = props
  const { definition } = draft
  return (
    <div className="flex flex-wrap items-center gap-3 print:hidden">
      <h1 className="text-xl">
        <button
          type="button"
          className="hover:underline"
          onClick={() => onSelect({ kind: 'workflow' })}
          title="Name and description"
        >
          {definition.name || 'Unnamed workflow'}
        </button>
      </h1>
      <button
        type="button"
        title="Versions, and what the draft changes"
        onClick={() => onSelect({ kind: 'versions' })}
      >
        <StateChip state={workflow.state} version={workflow.liveVersion} />
      </button>
      {changes > 0 && (
        <button
          type="button"
          className="chip border-warning text-warning hover:bg-base-200"
          onClick={() => onSelect({ kind: 'versions' })}
        >
          {plural(changes, 'unpublished change')}
        </button>
      )}
      {others.length > 0 && <Others others={others} />}
      <p className="max-w-md min-w-0 flex-1 truncate text-secondary" title={definition.description}>
        {definition.description}
      </p>
      {!isWriting && <ViewSwitch view={view} onView={onView} />}
      {mayEdit && (
        <div className="ml-auto flex items-center gap-2">
          <UndoButtons draft={draft} />
          <StateButtons workflow={workflow} draft={draft} numbers={numbers} />
        </div>
      )}
    </div>
  )
}

function Others({ others }: Pick<Props, 'others'>): ReactNode {
  const names = others.map(({ name, isSelf }) => (isSelf ? 'you, in another window' : name))
  return (
    <span
      className="chip border-warning text-warning"
      role="status"
      title="What they save is shown to you. If you both change it at once, the second to save is asked."
    >
      <Users size={12} aria-hidden="true" /> also open: {names.join(', ')}
    </span>
  )
}

function UndoButtons({ draft }: Pick<Props, 'draft'>): ReactNode {
  return (
    <>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label="Undo"
        title="Undo (Ctrl+Z)"
        disabled={!draft.canUndo}
        onClick={draft.undo}
      >
        <Undo2 size={16} />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        aria-label="Redo"
        title="Redo (Ctrl+Shift+Z)"
        disabled={!draft.canRedo}
        onClick={draft.redo}
      >
        <Redo2 size={16} />
      </button>
    </>
  )
}

function ViewSwitch({ view, onView }: Pick<Props, 'view' | 'onView'>): ReactNode {
  return (
    <div className="ml-auto flex" role="group" aria-label="Shown as">
      {VIEWS.map(([one, label]) => (
        <button
          key={one}
          type="button"
          className={`btn btn-sm ${one === view ? 'btn-neutral' : 'btn-ghost'}`}
          aria-pressed={one === view}
          onClick={() => onView(one)}
        >
          {label}
        </button>
      ))}
    </div>
  )
}
