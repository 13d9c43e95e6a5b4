import { useCallback, useState, type ReactNode } from 'react'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import { isMessage } from '../../../core/workflow/steps.ts'
import { layoutTimetable } from '../../../core/timetable/layout.ts'
import { HEAD_HEIGHT, ROW_HEIGHT } from '../timetable/geometry.ts'
import { Timetable } from '../timetable/Timetable.tsx'
import type { Selection } from '../selection.ts'
import type { ShownNumbers } from '../numbers/shownNumbers.ts'
import type { Figure } from './People.tsx'

interface Props {
  definition: Definition
  numbers: ShownNumbers
  /** Those of the time before; undefined where they are not asked for. */
  before: ShownNumbers | undefined
  onPeople: (figure: Figure) => void
}

/** Its border, and a scroll bar below. */
const EDGES_PX = 20
const WHOLE: Selection = { kind: 'workflow' }
const UNMARKED = () => undefined

/** The timetable as the report: bands as wide as people, and what became of them at each stop. */
export function Way({ definition, numbers, before, onPeople }: Props): ReactNode {
  const [selection, setSelection] = useState<Selection>(WHOLE)
  const select = useCallback(
    (to: Selection) => {
      setSelection(to)
      const step = to.kind === 'step' ? allSteps(definition.steps).find(({ key }) => key === to.key) : undefined // prettier-ignore
      if (step && isMessage(step)) {
        onPeople({ measure: 'reached', step: step.key, title: `Came to it: ${step.name}` })
      }
    },
    [definition, onPeople],
  )
  return (
    <div
      className="mb-4 flex max-h-[60vh] flex-col"
      style={{
        height: layoutTimetable(definition).rows.length * ROW_HEIGHT + HEAD_HEIGHT + EDGES_PX,
      }}
    >
      <Timetable
        definition={definition}
        numbers={numbers}
        corner={`${numbers.total.entered} entered`}
        selection={selection}
        onSelect={select}
        editing={undefined}
        marks={UNMARKED}
        whole={false}
        bands
        bandsBefore={before}
        label="Where people went"
      />
    </div>
  )
}
