import { Redo2, Undo2 } from 'lucide-react'
import { useCallback, useEffect, useMemo, useState, type ReactNode } from 'react'
import { useParams } from 'react-router'
import type { WorkflowNumbersResponse, WorkflowResponse } from '../../contract/workflows.ts'
import { goLiveFindings } from '../../core/check/goLive.ts'
import type { Item } from '../../core/timetable/layout.ts'
import type { Place } from '../../core/workflow/lists.ts'
import { insertStep, removeArm, removeBranch, removeStep } from '../../core/workflow/edit.ts'
import { useSession } from '../ui/shop.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { FindingsStrip } from './FindingsStrip.tsx'
import { focusInspector } from './inspector/focus.ts'
import { Inspector } from './inspector/Inspector.tsx'
import type { StepKind } from '../../core/workflow/steps.ts'
import { newStep } from './newSteps.ts'
import { RuleStrips } from './RuleStrips.tsx'
import { SaveNote } from './SaveNote.tsx'
import type { Selection } from './selection.ts'
import { StateButtons } from './StateButtons.tsx'
import { StateChip } from './StateChip.tsx'
import { Timetable } from './timetable/Timetable.tsx'
import { useDraft, type Draft } from './useDraft.ts'
import { WholeWorkflow } from './WholeWorkflow.tsx'
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
  const { user, shop } = useSession()
  const numbers = useNumbers(workflow.id)
  const [selection, setSelection] = useState<Selection>({ kind: 'workflow' })
  const findings = useMemo(() => goLiveFindings(definition), [definition])
  const mayEdit = user.role === 'marketer'
  useUndoKeys(draft)

  const insert = useCallback(
    (place: Place, kind: StepKind) => {
      const step = newStep(definition, kind, shop.defaultSender)
      change(insertStep(definition, place, step))
      setSelection({ kind: 'step', key: step.key })
      focusInspector()
    },
    [definition, change, shop],
  )
  const remove = useCallback(
    (item: Item) => {
      if (item.kind === 'branch' && item.fork && item.key)
        change(removeArm(removeBranch(definition, item.fork, item.key), item.fork, item.key))
      else if (item.key !== null && item.kind !== 'branch') change(removeStep(definition, item.key))
      else return
      setSelection({ kind: 'workflow' })
    },
    [definition, change],
  )

  return (
    <div className="flex h-full flex-col gap-3 p-4">
      <Header
        workflow={workflow}
        draft={draft}
        numbers={numbers.data}
        mayEdit={mayEdit}
        onName={() => setSelection({ kind: 'workflow' })}
      />
      <SaveNote draft={draft} />
      <RuleStrips
        definition={definition}
        numbers={numbers.data}
        selection={selection}
        onSelect={setSelection}
      />
      <div className="flex min-h-0 flex-1 gap-3">
        <Timetable
          definition={definition}
          numbers={workflow.liveVersion === null ? undefined : numbers.data}
          selection={selection}
          onSelect={setSelection}
          onInsert={mayEdit ? insert : undefined}
          onRemove={mayEdit ? remove : undefined}
        />
        <Inspector
          definition={definition}
          selection={selection}
          onSelect={setSelection}
          onChange={change}
          readOnly={!mayEdit}
          whole={
            mayEdit && (
              <WholeWorkflow workflow={workflow} definition={definition} numbers={numbers.data} />
            )
          }
        />
      </div>
      <FindingsStrip findings={findings} onSelect={setSelection} />
    </div>
  )
}

interface HeaderProps {
  workflow: WorkflowResponse
  draft: Draft
  numbers: WorkflowNumbersResponse | undefined
  mayEdit: boolean
  onName: () => void
}

function Header({ workflow, draft, numbers, mayEdit, onName }: HeaderProps): ReactNode {
  const { definition } = draft
  return (
    <div className="flex flex-wrap items-center gap-3">
      <h1 className="text-xl">
        <button
          type="button"
          className="hover:underline"
          onClick={onName}
          title="Name and description"
        >
          {definition.name || 'Unnamed workflow'}
        </button>
      </h1>
      <StateChip state={workflow.state} version={workflow.liveVersion} />
      <p className="max-w-xl truncate text-secondary" title={definition.description}>
        {definition.description}
      </p>
      {mayEdit && (
        <div className="ml-auto flex items-center gap-2">
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
