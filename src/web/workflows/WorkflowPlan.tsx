import { useMemo, type ComponentProps, type ReactNode } from 'react'
import type { WorkflowNumbersResponse, WorkflowResponse } from '../../contract/workflows.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import type { Editing } from './editing/useEditing.ts'
import { Inspector } from './inspector/Inspector.tsx'
import { OutlineView } from './outline/OutlineView.tsx'
import { RuleStrips } from './RuleStrips.tsx'
import type { Selection } from './selection.ts'
import { Timetable } from './timetable/Timetable.tsx'
import type { ShownNumbers } from './useReplay.ts'
import type { View } from './useShownAs.ts'
import type { Marks } from './versions/useChanges.ts'
import { VersionsPanel } from './versions/VersionsPanel.tsx'
import { WholeWorkflow } from './WholeWorkflow.tsx'

interface Props {
  workflow: WorkflowResponse
  definition: Definition
  onChange: (to: Definition, touching?: string) => void
  mayEdit: boolean
  numbers: WorkflowNumbersResponse | undefined
  /** The numbers at every stop, and the switch that says of what. */
  shown: { numbers: ShownNumbers | undefined; corner: ReactNode }
  selection: Selection
  onSelect: (selection: Selection) => void
  /** Missing for those who may only look. */
  editing: Editing | undefined
  view: View
  marks: Marks
}

/** A workflow as a whole: its rules, its timetable or outline, and the form of what is selected. */
export function WorkflowPlan(props: Props): ReactNode {
  const { workflow, definition, onChange, mayEdit, numbers, shown, view } = props
  const { selection, onSelect, editing, marks } = props
  // The same elements for as long as they show the same: the inspector keeps what it has drawn.
  const versions = useMemo(
    () => (
      <VersionsPanel
        workflow={workflow}
        definition={definition}
        onSelect={onSelect}
        onTake={mayEdit ? onChange : undefined}
      />
    ),
    [workflow, definition, onSelect, mayEdit, onChange],
  )
  const whole = useMemo(
    () =>
      mayEdit && <WholeWorkflow workflow={workflow} definition={definition} numbers={numbers} />,
    [mayEdit, workflow, definition, numbers],
  )
  return (
    <>
      <RuleStrips
        trigger={definition.trigger}
        entry={definition.entry}
        exclusions={definition.exclusions}
        priority={definition.priority}
        numbers={shown.numbers}
        selection={selection}
        onSelect={onSelect}
      />
      <div className="flex min-h-0 flex-1 gap-3">
        <Shown
          view={view}
          definition={definition}
          numbers={shown.numbers}
          corner={shown.corner}
          selection={selection}
          onSelect={onSelect}
          editing={editing}
          marks={marks}
        />
        {(view !== 'whole' || selection.kind !== 'workflow') && (
          <Inspector
            definition={definition}
            selection={selection}
            onSelect={onSelect}
            onChange={onChange}
            readOnly={!mayEdit}
            versions={versions}
            whole={whole}
          />
        )}
      </div>
    </>
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
