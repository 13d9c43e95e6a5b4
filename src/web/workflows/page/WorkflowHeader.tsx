import { Redo2, Undo2 } from 'lucide-react'
import { memo, type MouseEvent, type ReactNode } from 'react'
import { Link, useNavigate } from 'react-router'
import type { WorkflowResponse } from '../../../contract/workflows.ts'
import { plural } from '../../../core/words/quantities.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { PageHeading } from '../../ui/PageHeading.tsx'
import type { Selection } from '../selection.ts'
import { StateButtons } from '../states/StateButtons.tsx'
import { StateChip } from '../states/StateChip.tsx'
import type { DraftActions } from '../draft/useDraft.ts'
import { Others } from './Others.tsx'
import { useOthers } from './useOthers.ts'
import { VIEWS, type View } from './useShownAs.ts'
import { useNumbers } from './useWorkflow.ts'

interface Props extends Pick<DraftActions, 'flush' | 'follow'> {
  workflow: WorkflowResponse
  definition: Definition
  /** Missing while there is nothing to undo. */
  undo: (() => void) | undefined
  redo: (() => void) | undefined
  mayEdit: boolean
  onSelect: (selection: Selection) => void
  /** How much the draft differs from what is live. */
  changes: number
  view: View
  onView: (view: View) => void
  /** The name of its message that is written; how the whole is shown is not asked then. */
  writing: string | undefined
}

/** The name of a workflow, its state, how it is shown, and what can be done with all of it. */
export const WorkflowHeader = memo(function WorkflowHeader(props: Props): ReactNode {
  const { workflow, definition, flush, follow, undo, redo, mayEdit } = props
  const { onSelect, changes, view, onView, writing } = props
  const { data: numbers } = useNumbers(workflow.id)
  const others = useOthers(workflow.id, follow)
  const name = definition.name || 'Unnamed workflow'
  return (
    <div className="flex flex-wrap items-center gap-3 print:hidden">
      <PageHeading title={writing ? `${writing} · ${name}` : name}>
        <button
          type="button"
          className="hover:underline"
          onClick={() => onSelect({ kind: 'workflow' })}
          title="Name and description"
        >
          {name}
        </button>
      </PageHeading>
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
      {writing === undefined && mayEdit && <Rehearse id={workflow.id} flush={flush} />}
      {writing === undefined && workflow.liveVersion !== null && (
        <Link className="btn btn-ghost btn-sm" to={`/workflows/${workflow.id}/results`}>
          Results
        </Link>
      )}
      {writing === undefined && <ViewSwitch view={view} onView={onView} />}
      {mayEdit && (
        <div className="ml-auto flex items-center gap-2">
          <UndoButtons undo={undo} redo={redo} />
          <StateButtons
            workflow={workflow}
            definition={definition}
            flush={flush}
            numbers={numbers}
          />
        </div>
      )}
    </div>
  )
})

/** Leads to the rehearsal of the draft, once what was typed last is saved. */
function Rehearse({ id, flush }: { id: string; flush: Props['flush'] }): ReactNode {
  const navigate = useNavigate()
  const to = `/workflows/${id}/rehearsal`
  const look = (event: MouseEvent) => {
    // Another window is opened as ever.
    if (event.ctrlKey || event.metaKey || event.shiftKey) return
    event.preventDefault()
    // What cannot be saved is said by the page itself; it is rehearsed as it was saved last.
    const go = () => navigate(to)
    void flush().then(go, go)
  }
  return (
    <Link className="btn btn-ghost btn-sm ml-auto" to={to} onClick={look}>
      Rehearse
    </Link>
  )
}

/** They stay where the keyboard is, also once nothing is left to undo. */
function UndoButtons({ undo, redo }: Pick<Props, 'undo' | 'redo'>): ReactNode {
  return (
    <>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square aria-disabled:cursor-default aria-disabled:opacity-40"
        aria-label="Undo"
        title="Undo (Ctrl+Z)"
        aria-disabled={!undo}
        onClick={() => undo?.()}
      >
        <Undo2 size={16} />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square aria-disabled:cursor-default aria-disabled:opacity-40"
        aria-label="Redo"
        title="Redo (Ctrl+Shift+Z)"
        aria-disabled={!redo}
        onClick={() => redo?.()}
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
