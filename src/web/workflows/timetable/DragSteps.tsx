import {
  DndContext,
  DragOverlay,
  PointerSensor,
  pointerWithin,
  closestCenter,
  useSensor,
  useSensors,
  type CollisionDetection,
} from '@dnd-kit/core'
import { createContext, memo, useContext, useState, type ReactNode } from 'react'
import type { Place } from '../../../core/workflow/lists.ts'

interface Props {
  /** Missing for those who may only look. */
  onMove: ((key: string, to: Place) => void) | undefined
  /** What a step is called while it is dragged. */
  nameOf: (key: string) => string
  children: ReactNode
}

/** Where the pointer is, or else what is nearest: a line is a small thing to aim at. */
const nearest: CollisionDetection = (args) => {
  const under = pointerWithin(args)
  return under.length > 0 ? under : closestCenter(args)
}

// A click that trembles is still a click. Always the same object: another one would draw all anew.
const BY_POINTER = { activationConstraint: { distance: 6 } }

const DraggingContext = createContext(false)

/** True while a step is dragged: only then is there something to aim at. */
export function useIsDragging(): boolean {
  return useContext(DraggingContext)
}

/**
 * Lets steps be dragged to other places. Keyboards cut and paste instead. Drawn anew only while
 * something is dragged, if it is always given the same.
 */
export const DragSteps = memo(function DragSteps({ onMove, nameOf, children }: Props): ReactNode {
  const [dragged, setDragged] = useState<string | null>(null)
  const sensors = useSensors(useSensor(PointerSensor, BY_POINTER))
  if (!onMove) return children
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={nearest}
      onDragStart={({ active }) => setDragged(nameOf(String(active.id)))}
      onDragCancel={() => setDragged(null)}
      onDragEnd={({ active, over }) => {
        setDragged(null)
        const place = over?.data.current?.['place'] as Place | undefined
        if (place) onMove(String(active.id), place)
      }}
    >
      <DraggingContext value={dragged !== null}>{children}</DraggingContext>
      <DragOverlay dropAnimation={null}>
        {dragged !== null && <div className="panel px-2.5 py-1.5 font-medium">{dragged}</div>}
      </DragOverlay>
    </DndContext>
  )
})
