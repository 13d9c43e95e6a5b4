import { useDroppable } from '@dnd-kit/core'
import { memo, type ReactNode } from 'react'
import type { Link } from '../../../core/timetable/layout.ts'
import type { Place } from '../../../core/workflow/lists.ts'
import type { StepKind } from '../../../core/workflow/steps.ts'
import { sameProps } from '../../ui/hooks/sameProps.ts'
import { AddHere } from '../editing/AddHere.tsx'
import { useIsDragging } from './DragSteps.tsx'
import { PLUS, plusAt, plusSide } from './geometry.ts'

/** A place at which a step can be added, and the id of the item that it comes after. */
interface PlaceAfter {
  place: Place
  after: string
}

/** The places beside an item at which steps can be added. */
export type Places = Partial<Record<Side, PlaceAfter>>
type Side = 'before' | 'after'

/** Where steps can be added, by the ids of the items that it is shown beside. */
export function placesOf(links: readonly Link[]): Map<string, Places> {
  const all = new Map<string, Places>()
  for (const { from, to, place } of links) {
    if (!place) continue
    const side = plusSide(from, to)
    const { id } = side === 'before' ? to : from
    all.set(id, { ...all.get(id), [side]: { place, after: from.id } })
  }
  return all
}

interface Props extends PlaceAfter {
  side: Side
  /** The item it stands beside: its size, and how it is called. */
  width: number
  height: number
  name: string
  onInsert: (place: Place, kind: StepKind) => void
}

/** A "+" on the line before or after an item; while a step is dragged, where it can be dropped. */
export const Plus = memo(function Plus(props: Props): ReactNode {
  const { side, place, after, width, height, name, onInsert } = props
  const at = plusAt(side, { width, height })
  if (useIsDragging()) return <Goal place={place} {...at} />
  return (
    <AddHere
      place={place}
      label={`Add ${side} ${name}`}
      after={after}
      onInsert={onInsert}
      {...at}
    />
  )
}, sameProps<Props>('place'))

interface GoalProps {
  place: Place
  left: number
  top: number
}

function Goal({ place, left, top }: GoalProps): ReactNode {
  const { setNodeRef, isOver } = useDroppable({ id: JSON.stringify(place), data: { place } })
  return (
    <span
      ref={setNodeRef}
      aria-hidden="true"
      style={{ left, top, width: PLUS, height: PLUS }}
      className={`absolute z-[5] rounded-full border ${isOver ? 'scale-150 border-primary bg-primary' : 'border-primary bg-base-100'}`}
    />
  )
}
