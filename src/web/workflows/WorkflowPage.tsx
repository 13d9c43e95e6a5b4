import { useEffect, useState, type ComponentProps, type ReactNode } from 'react'
import { useParams } from 'react-router'
import type { WorkflowResponse } from '../../contract/workflows.ts'
import { useSession } from '../ui/shop.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { useEditing } from './editing/useEditing.ts'
import { FindingsStrip } from './FindingsStrip.tsx'
import { Inspector } from './inspector/Inspector.tsx'
import { OutlineView } from './outline/OutlineView.tsx'
import { RuleStrips } from './RuleStrips.tsx'
import { SaveNote } from './SaveNote.tsx'
import type { Selection } from './selection.ts'
import { Timetable } from './timetable/Timetable.tsx'
import { useDraft, type Draft } from './useDraft.ts'
import { WholeWorkflow } from './WholeWorkflow.tsx'
import { useChanges, useMarks } from './versions/useChanges.ts'
import { VersionsPanel } from './versions/VersionsPanel.tsx'
import { useOthers } from './useOthers.ts'
import { useShownNumbers } from './useShownNumbers.tsx'
import { useShownAs, type View } from './useShownAs.ts'
import { useNumbers, useWorkflow } from './useWorkflow.ts'
import { WorkflowHeader } from './WorkflowHeader.tsx'

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
  const mayEdit = user.role === 'marketer'
  useUndoKeys(draft)

  const editing = useEditing(definition, change, setSelection)
  const [view, setView] = useShownAs()
  const others = useOthers(workflow.id, draft)
  const shown = useShownNumbers(workflow, definition, numbers.data)
  const changes = useChanges(workflow.live, definition)
  const marks = useMarks(changes)

  return (
    <div className="flex h-full flex-col gap-3 p-4">
      <WorkflowHeader
        workflow={workflow}
        draft={draft}
        numbers={numbers.data}
        mayEdit={mayEdit}
        onSelect={setSelection}
        changes={changes.length}
        view={view}
        onView={setView}
        others={others}
      />
      <SaveNote draft={draft} />
      <RuleStrips
        trigger={definition.trigger}
        entry={definition.entry}
        exclusions={definition.exclusions}
        priority={definition.priority}
        numbers={shown.numbers}
        selection={selection}
        onSelect={setSelection}
      />
      <div className="flex min-h-0 flex-1 gap-3">
        <Shown
          view={view}
          definition={definition}
          numbers={shown.numbers}
          corner={shown.corner}
          selection={selection}
          onSelect={setSelection}
          editing={mayEdit ? editing : undefined}
          marks={marks}
        />
        {(view !== 'whole' || selection.kind !== 'workflow') && (
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
        )}
      </div>
      <FindingsStrip
        id={workflow.id}
        definition={definition}
        onSelect={setSelection}
        onChange={mayEdit ? change : undefined}
      />
    </div>
  )
}

type ShownProps = Omit<ComponentProps<typeof Timetable>, 'whole'> & { view: View }

function Shown({ view, ...props }: ShownProps): ReactNode {
  if (view !== 'outline') return <Timetable {...props} whole={view === 'whole'} />
  const { definition, selection, onSelect, editing } = props
  return (
    <OutlineView
      definition={definition}
      selection={selection}
      onSelect={onSelect}
      editing={editing}
    />
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
