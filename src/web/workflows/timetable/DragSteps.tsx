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
import { createContext, useContext, useState, type ReactNode } from 'react'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps, type Place } from '../../../core/workflow/lists.ts'
import type { Editing } from '../editing/useEditing.ts'
import { labelOfStep } from './StepFace.tsx'

interface Props {
  definition: Definition
  editing: Editing | undefined
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

/** Lets steps be dragged to other places. Keyboards cut and paste instead. */
export function DragSteps({ definition, editing, children }: Props): ReactNode {
  const [dragged, setDragged] = useState<string | null>(null)
  const sensors = useSensors(useSensor(PointerSensor, BY_POINTER))
  if (!editing) return children
  const step =
    dragged === null ? null : allSteps(definition.steps).find(({ key }) => key === dragged)
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={nearest}
      onDragStart={({ active }) => setDragged(String(active.id))}
      onDragCancel={() => setDragged(null)}
      onDragEnd={({ active, over }) => {
        setDragged(null)
        const place = over?.data.current?.['place'] as Place | undefined
        if (place) editing.move(String(active.id), place)
      }}
    >
      <DraggingContext value={dragged !== null}>{children}</DraggingContext>
      <DragOverlay dropAnimation={null}>
        {step && <div className="panel px-2.5 py-1.5 font-medium">{labelOfStep(step)}</div>}
      </DragOverlay>
    </DndContext>
  )
}
