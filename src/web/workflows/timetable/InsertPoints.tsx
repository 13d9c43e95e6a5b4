import { useDroppable } from '@dnd-kit/core'
import { memo, useState, type ReactNode } from 'react'
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
  return layout.links.map(({ from, to, place }) => {
    if (!place || !inSight.line(from, to)) return null
    const { x, y } = insertPoint(geometry.boxOf(from), geometry.boxOf(to))
    return (
      <InsertPoint
        key={`${from.id} ${to.id}`}
        from={from.id}
        to={to.id}
        place={place}
        x={x}
        y={y}
        label={labelOf(from, to)}
        onInsert={onInsert}
      />
    )
  })
})

const labelOf = (start: Item, end: Item): string =>
  `Add after ${start.key ?? 'start'}, before ${end.key ?? 'end'}`

interface PointProps extends Pick<Props, 'onInsert'> {
  from: string
  to: string
  place: Place
  x: number
  y: number
  label: string
}

const InsertPoint = memo(function InsertPoint(props: PointProps): ReactNode {
  const { from, to, place, x, y, label, onInsert } = props
  const [open, setOpen] = useState(false)
  const isDragging = useIsDragging()
  return (
    <div className={`absolute ${open ? 'z-30' : 'z-[5]'}`} style={{ left: x - 9, top: y - 9 }}>
      {isDragging ? (
        <Goal id={`${from} ${to}`} place={place} />
      ) : (
        <AddHere place={place} label={label} after={from} onInsert={onInsert} onOpen={setOpen} />
      )}
    </div>
  )
}, sameProps<PointProps>('place'))

/** Where what is dragged can be dropped, in the place of the "+". */
function Goal({ id, place }: { id: string; place: Place }): ReactNode {
  const { setNodeRef, isOver } = useDroppable({ id, data: { place } })
  return (
    <span
      ref={setNodeRef}
      aria-hidden="true"
      className={`block h-[18px] w-[18px] rounded-full border ${isOver ? 'scale-150 border-primary bg-primary' : 'border-primary bg-base-100'}`}
    />
  )
}
