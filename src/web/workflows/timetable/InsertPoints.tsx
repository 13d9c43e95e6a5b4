import { useDroppable } from '@dnd-kit/core'
import { memo, useMemo, useState, type ReactNode } from 'react'
import type { Item, Link, Timetable } from '../../../core/timetable/layout.ts'
import type { Place } from '../../../core/workflow/lists.ts'
import type { StepKind } from '../../../core/workflow/steps.ts'
import { AddHere } from '../editing/AddHere.tsx'
import { useIsDragging } from './DragSteps.tsx'
import { insertPoint, type Geometry } from './geometry.ts'
import { isInView, type View } from './useView.ts'

interface Props {
  layout: Timetable
  geometry: Geometry
  view: View
  onInsert: (place: Place, kind: StepKind) => void
}

/** A "+" on every line that can be seen, where steps can be added and dropped. */
export const InsertPoints = memo(function InsertPoints(props: Props): ReactNode {
  const { layout, geometry, view, onInsert } = props
  const byId = useMemo(() => new Map(layout.items.map((item) => [item.id, item])), [layout])
  return layout.links.map((link) => {
    const { from, to, place } = link
    const start = byId.get(from)
    const end = byId.get(to)
    if (!place || !start || !end) return null
    const at = insertPoint(geometry.boxOf(start), geometry.boxOf(end))
    if (!isInView({ left: at.x, top: at.y, width: 0, height: 0 }, view)) return null
    return (
      <InsertPoint
        key={`${from} ${to}`}
        link={link}
        place={place}
        at={at}
        label={labelOf(start, end)}
        onInsert={onInsert}
      />
    )
  })
})

const labelOf = (start: Item, end: Item): string =>
  `Add after ${start.key ?? 'start'}, before ${end.key ?? 'end'}`

interface PointProps extends Pick<Props, 'onInsert'> {
  link: Link
  place: Place
  at: { x: number; y: number }
  label: string
}

function InsertPoint({ link, place, at, label, onInsert }: PointProps): ReactNode {
  const [open, setOpen] = useState(false)
  const isDragging = useIsDragging()
  return (
    <div
      className={`absolute ${open ? 'z-30' : 'z-[5]'}`}
      style={{ left: at.x - 9, top: at.y - 9 }}
    >
      {isDragging ? (
        <Goal link={link} place={place} />
      ) : (
        <AddHere
          place={place}
          label={label}
          after={link.from}
          onInsert={onInsert}
          onOpen={setOpen}
        />
      )}
    </div>
  )
}

/** Where what is dragged can be dropped, in the place of the "+". */
function Goal({ link, place }: Pick<PointProps, 'link' | 'place'>): ReactNode {
  const { setNodeRef, isOver } = useDroppable({ id: `${link.from} ${link.to}`, data: { place } })
  return (
    <span
      ref={setNodeRef}
      aria-hidden="true"
      className={`block h-[18px] w-[18px] rounded-full border ${isOver ? 'scale-150 border-primary bg-primary' : 'border-primary bg-base-100'}`}
    />
  )
}
