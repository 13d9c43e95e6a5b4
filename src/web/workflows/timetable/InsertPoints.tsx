import { useDroppable } from '@dnd-kit/core'
import { useState, type ReactNode } from 'react'
import type { Link, Timetable } from '../../../core/timetable/layout.ts'
import type { Place } from '../../../core/workflow/lists.ts'
import type { StepKind } from '../../../core/workflow/steps.ts'
import { AddHere } from '../editing/AddHere.tsx'
import { insertPoint, type Geometry } from './geometry.ts'

interface Props {
  layout: Timetable
  geometry: Geometry
  onInsert: (place: Place, kind: StepKind) => void
}

/** A "+" on every line, where steps can be added and dropped. */
export function InsertPoints({ layout, geometry, onInsert }: Props): ReactNode {
  const byId = new Map(layout.items.map((item) => [item.id, item]))
  return layout.links.map((link) => {
    const { from, to, place } = link
    const start = byId.get(from)
    const end = byId.get(to)
    if (!place || !start || !end) return null
    return (
      <InsertPoint
        key={`${from} ${to}`}
        link={link}
        place={place}
        at={insertPoint(geometry.boxOf(start), geometry.boxOf(end))}
        label={`Add after ${start.key ?? 'start'}, before ${end.key ?? 'end'}`}
        onInsert={onInsert}
      />
    )
  })
}

interface PointProps extends Pick<Props, 'onInsert'> {
  link: Link
  place: Place
  at: { x: number; y: number }
  label: string
}

function InsertPoint({ link, place, at, label, onInsert }: PointProps): ReactNode {
  const [open, setOpen] = useState(false)
  const { setNodeRef, isOver } = useDroppable({ id: `${link.from} ${link.to}`, data: { place } })
  return (
    <div
      ref={setNodeRef}
      className={`absolute ${open ? 'z-30' : 'z-[5]'}`}
      style={{ left: at.x - 9, top: at.y - 9 }}
    >
      <AddHere
        place={place}
        label={label}
        after={link.from}
        isGoal={isOver}
        onInsert={onInsert}
        onOpen={setOpen}
      />
    </div>
  )
}
