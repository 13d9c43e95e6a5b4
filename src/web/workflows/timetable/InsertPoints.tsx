import { useDroppable } from '@dnd-kit/core'
import { memo, type ComponentProps, type ReactNode } from 'react'
import type { Item, Timetable } from '../../../core/timetable/layout.ts'
import type { Place } from '../../../core/workflow/lists.ts'
import type { StepKind } from '../../../core/workflow/steps.ts'
import { sameProps } from '../../ui/sameProps.ts'
import { AddHere } from '../editing/AddHere.tsx'
import { useIsDragging } from './DragSteps.tsx'
import { insertPoint, type Geometry } from './geometry.ts'
import type { InSight } from './inSight.ts'

interface Props {
  layout: Timetable
  geometry: Geometry
  inSight: InSight
  onInsert: (place: Place, kind: StepKind) => void
}

/** A "+" on every line that can be seen, where steps can be added and dropped. */
export const InsertPoints = memo(function InsertPoints(props: Props): ReactNode {
  const { layout, geometry, inSight, onInsert } = props
  const isDragging = useIsDragging()
  return layout.links.map(({ from, to, place }) => {
    if (!place || !inSight.line(from, to)) return null
    const { x, y } = insertPoint(geometry.boxOf(from), geometry.boxOf(to))
    const at = { left: x - SIZE / 2, top: y - SIZE / 2 }
    const id = `${from.id} ${to.id}`
    if (isDragging) return <Goal key={id} id={id} place={place} {...at} />
    return (
      <InsertPoint
        key={id}
        place={place}
        label={labelOf(from, to)}
        after={from.id}
        onInsert={onInsert}
        {...at}
      />
    )
  })
})

const SIZE = 18

const labelOf = (start: Item, end: Item): string =>
  `Add after ${start.key ?? 'start'}, before ${end.key ?? 'end'}`

const InsertPoint = memo(AddHere, sameProps<ComponentProps<typeof AddHere>>('place'))

interface GoalProps {
  id: string
  place: Place
  left: number
  top: number
}

/** Where what is dragged can be dropped, in the place of the "+". */
function Goal({ id, place, left, top }: GoalProps): ReactNode {
  const { setNodeRef, isOver } = useDroppable({ id, data: { place } })
  return (
    <span
      ref={setNodeRef}
      aria-hidden="true"
      style={{ left, top, width: SIZE, height: SIZE }}
      className={`absolute z-[5] block rounded-full border ${isOver ? 'scale-150 border-primary bg-primary' : 'border-primary bg-base-100'}`}
    />
  )
}
