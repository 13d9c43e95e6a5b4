import { wayName } from '../../../core/words/wayNames.ts'
import { memo, useMemo, type ReactNode } from 'react'
import type { Item, Timetable as Layout } from '../../../core/timetable/layout.ts'
import { allSteps, listsOf } from '../../../core/workflow/lists.ts'
import { isBranching, type Step } from '../../../core/workflow/steps.ts'
import { selectionOf, sameSelection, type Selection } from '../selection.ts'
import type { ShownNumbers } from '../numbers/shownNumbers.ts'
import type { Marks } from '../versions/useChanges.ts'
import type { Editing } from '../editing/useEditing.ts'
import type { Geometry } from './geometry.ts'
import type { InSight } from './inSight.ts'
import { inkFor } from './ink.ts'
import { ItemView } from './ItemView.tsx'
import { placesOf } from './Plus.tsx'

interface Props {
  layout: Layout
  geometry: Geometry
  inSight: InSight
  steps: readonly Step[]
  numbers: ShownNumbers | undefined
  selection: Selection
  onSelect: (selection: Selection) => void
  /** The items that have the keyboard or the pointer, or are about to. */
  held: readonly string[]
  /** Steps can be dragged elsewhere. */
  movable: boolean
  marks: Marks
  /** What adds a step; missing where none can be added. */
  onInsert: Editing['insert'] | undefined
}

/** What stands on the timetable and can be seen, and always what is selected or held. */
export const Items = memo(function Items(props: Props): ReactNode {
  const {
    layout,
    geometry,
    inSight,
    numbers,
    selection,
    onSelect,
    held,
    movable,
    marks,
    onInsert,
  } = props
  const steps = useMemo(
    () => new Map(allSteps(props.steps).map((step) => [step.key, step])),
    [props.steps],
  )
  const places = useMemo(() => placesOf(layout.links), [layout])
  const selected = useMemo(() => layout.items.find(isOf(selection))?.id, [layout, selection])
  return layout.items.map((item) => {
    const isSelected = item.id === selected
    if (!isSelected && !held.includes(item.id) && !inSight.item(item)) return null
    const own = selectionOf(item)
    return (
      <ItemView
        key={item.id}
        item={item}
        box={geometry.boxOf(item)}
        places={places.get(item.id)}
        onInsert={onInsert}
        ink={inkFor(item, layout)}
        step={item.key === null ? undefined : steps.get(item.key)}
        name={item.kind === 'branch' ? branchName(item, steps) : ''}
        numbers={numbers}
        selected={isSelected}
        onSelect={onSelect}
        movable={movable}
        mark={own ? marks(own) : undefined}
      />
    )
  })
})

const isOf =
  (selection: Selection) =>
  (item: Item): boolean => {
    const own = selectionOf(item)
    return own !== null && sameSelection(own, selection)
  }

const UNNAMED = 'Unnamed path'

function branchName({ branching, key }: Item, steps: ReadonlyMap<string, Step>): string {
  const step = branching === null ? undefined : steps.get(branching)
  if (!step || !isBranching(step)) return UNNAMED
  const way = listsOf(step).find(({ branch }) => branch === key)
  return (way && wayName(step, way)) || UNNAMED
}
