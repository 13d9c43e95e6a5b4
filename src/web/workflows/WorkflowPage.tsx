import { Redo2, Undo2 } from 'lucide-react'
import { useEffect, useMemo, useState, type ReactNode } from 'react'
import { useParams, useSearchParams } from 'react-router'
import type { WorkflowNumbersResponse, WorkflowResponse } from '../../contract/workflows.ts'
import { plural } from '../../core/words/quantities.ts'
import { useSession } from '../ui/shop.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { useEditing } from './editing/useEditing.ts'
import { FindingsStrip } from './FindingsStrip.tsx'
import { Inspector } from './inspector/Inspector.tsx'
import { OutlineView } from './outline/OutlineView.tsx'
import { RuleStrips } from './RuleStrips.tsx'
import { SaveNote } from './SaveNote.tsx'
import type { Selection } from './selection.ts'
import { StateButtons } from './StateButtons.tsx'
import { StateChip } from './StateChip.tsx'
import { Timetable } from './timetable/Timetable.tsx'
import { useDraft, type Draft } from './useDraft.ts'
import { WholeWorkflow } from './WholeWorkflow.tsx'
import { useFindings } from './useFindings.ts'
import { marksOf, useChanges } from './versions/useChanges.ts'
import { VersionsPanel } from './versions/VersionsPanel.tsx'
import { useNumbers, useWorkflow } from './useWorkflow.ts'

/** One workflow: its rules, its timetable, what is selected, and what the check found. */
export function WorkflowPage(): ReactNode {
  const { id = '' } = useParams()
  const workflow = useWorkflow(id)
  if (workflow.error)
    return <Problem error={workflow.error} retry={() => void workflow.refetch()} />
  if (!workflow.data) return <Loading what="the workflow" />
  return <Editor key={id} workflow={workflow.data} />
}

function Editor({ workflow }: { workflow: WorkflowResponse }): ReactNode {
  const draft = useDraft(workflow)
  const { definition, change } = draft
  const { user } = useSession()
  const numbers = useNumbers(workflow.id)
  const [selection, setSelection] = useState<Selection>({ kind: 'workflow' })
  const findings = useFindings(workflow.id, definition)
  const mayEdit = user.role === 'marketer'
  useUndoKeys(draft)

  const editing = useEditing(definition, change, setSelection)
  const [view, setView] = useView()
  const changes = useChanges(workflow.live, definition)
  const marks = useMemo(() => marksOf(changes), [changes])

  return (
    <div className="flex h-full flex-col gap-3 p-4">
      <Header
        workflow={workflow}
        draft={draft}
        numbers={numbers.data}
        mayEdit={mayEdit}
        onSelect={setSelection}
        changes={changes.length}
        view={view}
        onView={setView}
      />
      <SaveNote draft={draft} />
      <RuleStrips
        definition={definition}
        numbers={numbers.data}
        selection={selection}
        onSelect={setSelection}
      />
      <div className="flex min-h-0 flex-1 gap-3">
        {view === 'outline' ? (
          <OutlineView
            definition={definition}
            selection={selection}
            onSelect={setSelection}
            editing={mayEdit ? editing : undefined}
          />
        ) : (
          <Timetable
            definition={definition}
            numbers={workflow.liveVersion === null ? undefined : numbers.data}
            selection={selection}
            onSelect={setSelection}
            editing={mayEdit ? editing : undefined}
            marks={marks}
          />
        )}
        <Inspector
          definition={definition}
          selection={selection}
          onSelect={setSelection}
          onChange={change}
          readOnly={!mayEdit}
          versions={
            <VersionsPanel
              workflow={workflow}
              definition={definition}
              onSelect={setSelection}
              onTake={mayEdit ? change : undefined}
            />
          }
          whole={
            mayEdit && (
              <WholeWorkflow workflow={workflow} definition={definition} numbers={numbers.data} />
            )
          }
        />
      </div>
      <FindingsStrip
        findings={findings}
        definition={definition}
        onSelect={setSelection}
        onChange={mayEdit ? change : undefined}
      />
    </div>
  )
}

interface HeaderProps {
  workflow: WorkflowResponse
  draft: Draft
  numbers: WorkflowNumbersResponse | undefined
  mayEdit: boolean
  onSelect: (selection: Selection) => void
  /** How much the draft differs from what is live. */
  changes: number
  view: View
  onView: (view: View) => void
}

function Header({
  workflow,
  draft,
  numbers,
  mayEdit,
  onSelect,
  changes,
  view,
  onView,
}: HeaderProps): ReactNode {
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
      <p className="max-w-md min-w-0 flex-1 truncate text-secondary" title={definition.description}>
        {definition.description}
      </p>
      <ViewSwitch view={view} onView={onView} />
      {mayEdit && (
        <div className="flex items-center gap-2">
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
          <StateButtons workflow={workflow} draft={draft} numbers={numbers} />
        </div>
      )}
    </div>
  )
}

type View = 'timetable' | 'outline'

/** How the workflow is shown; in the address, so that a link shows the same. */
function useView(): [View, (view: View) => void] {
  const [search, setSearch] = useSearchParams()
  const view = search.get('view') === 'outline' ? 'outline' : 'timetable'
  return [view, (to) => setSearch(to === 'outline' ? { view: to } : {}, { replace: true })]
}

const VIEWS = { timetable: 'Timetable', outline: 'Outline' } as const

function ViewSwitch({ view, onView }: Pick<HeaderProps, 'view' | 'onView'>): ReactNode {
  return (
    <div className="join ml-auto" role="group" aria-label="Shown as">
      {(Object.keys(VIEWS) as View[]).map((one) => (
        <button
          key={one}
          type="button"
          className={`btn join-item btn-sm ${one === view ? 'btn-neutral' : 'btn-ghost'}`}
          aria-pressed={one === view}
          onClick={() => onView(one)}
        >
          {VIEWS[one]}
        </button>
      ))}
    </div>
  )
}

function useUndoKeys({ undo, redo }: Draft): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
      event.preventDefault()
      if (event.shiftKey) redo()
      else undo()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [undo, redo])
}
