import { memo, useCallback, useDeferredValue, useEffect, useMemo, type ReactNode } from 'react'
import type { WorkflowResponse } from '../../../contract/workflows.ts'
import type { Change } from '../../../core/words/changes.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { useEditing, type Editing } from '../editing/useEditing.ts'
import { focusSelected } from '../inspector/focus.ts'
import { Inspector } from '../inspector/Inspector.tsx'
import { OutlineView } from '../outline/OutlineView.tsx'
import { RuleStrips } from './RuleStrips.tsx'
import type { Selection } from '../selection.ts'
import { Timetable } from '../timetable/Timetable.tsx'
import type { Draft } from '../draft/useDraft.ts'
import type { View } from './useShownAs.ts'
import { enteredWords } from '../numbers/shownNumbers.ts'
import { useShownNumbers } from '../numbers/useShownNumbers.tsx'
import { useMarks } from '../versions/useChanges.ts'
import { VersionsPanel } from '../versions/VersionsPanel.tsx'
import { WholeWorkflow } from './WholeWorkflow.tsx'

interface Props {
  workflow: WorkflowResponse
  draft: Draft
  mayEdit: boolean
  selection: Selection
  onSelect: (selection: Selection) => void
  view: View
  /** What the draft changes of what is live. */
  changes: readonly Change[]
}

/** A workflow as a whole: its rules, its timetable or outline, and the form of what is selected. */
export function WorkflowPlan(props: Props): ReactNode {
  const { workflow, draft, mayEdit, selection, onSelect, view, changes } = props
  const { definition, later, first, change } = draft
  const editing = useEditing(definition, change, onSelect)
  const changeInForm = useCallback(
    (to: Definition, touching?: string) => change(to, touching, 'form'),
    [change],
  )
  // The same elements for as long as they show the same: the inspector keeps what it has drawn.
  const versions = useMemo(
    () => (
      <VersionsPanel
        workflow={workflow}
        definition={definition}
        onSelect={onSelect}
        onTake={mayEdit ? changeInForm : undefined}
      />
    ),
    [workflow, definition, onSelect, mayEdit, changeInForm],
  )
  const whole = useMemo(
    () => mayEdit && <WholeWorkflow workflow={workflow} definition={definition} />,
    [mayEdit, workflow, definition],
  )
  // From where a message is written, back to the message.
  useEffect(focusSelected, [])
  const hasForm = view !== 'whole' || selection.kind !== 'workflow'
  return (
    <div
      // On a phone one below the other: the rules, the plan with room to scroll in, the form.
      className={`grid min-h-0 flex-1 grid-rows-[auto_minmax(0,1fr)] gap-3 max-sm:grid-cols-[minmax(0,1fr)] max-sm:grid-rows-[auto_65dvh_auto] print:block ${hasForm ? 'grid-cols-[minmax(0,1fr)_352px]' : 'grid-cols-[minmax(0,1fr)]'}`}
    >
      <Plan
        workflow={workflow}
        definition={first === 'form' ? later : definition}
        selection={selection}
        onSelect={onSelect}
        editing={mayEdit ? editing : undefined}
        view={view}
        changes={changes}
      />
      {hasForm && (
        <Inspector
          definition={definition}
          selection={selection}
          onSelect={onSelect}
          onChange={changeInForm}
          readOnly={!mayEdit}
          versions={versions}
          whole={whole}
          isFirst={first !== 'plan'}
        />
      )}
    </div>
  )
}

interface PlanProps extends Pick<
  Props,
  'workflow' | 'selection' | 'onSelect' | 'view' | 'changes'
> {
  definition: Definition
  /** Missing for those who may only look. */
  editing: Editing | undefined
}

/** The rules, and the timetable or the outline below them. */
const Plan = memo(function Plan(props: PlanProps): ReactNode {
  const { workflow, definition, selection, onSelect, editing, view, changes } = props
  const { numbers, corner } = useShownNumbers(workflow, definition)
  const marks = useMarks(changes)
  // Nobody waits for this at an edit.
  const steps = useDeferredValue(definition.steps)
  const entered = useMemo(() => numbers && enteredWords(numbers, steps), [numbers, steps])
  const { trigger, entry, exclusions, priority } = definition
  return (
    <>
      <RuleStrips
        trigger={trigger}
        entry={entry}
        exclusions={exclusions}
        priority={priority}
        numbers={numbers}
        entered={entered}
        selected={selection.kind}
        onSelect={onSelect}
      />
      {view === 'outline' ? (
        <OutlineView
          definition={definition}
          selection={selection}
          onSelect={onSelect}
          editing={editing}
        />
      ) : (
        <Timetable
          definition={definition}
          numbers={numbers}
          corner={corner}
          selection={selection}
          onSelect={onSelect}
          editing={editing}
          marks={marks}
          whole={view === 'whole'}
        />
      )}
    </>
  )
})
