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
import { useState, type ReactNode } from 'react'
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

/** Lets steps be dragged to other places. Keyboards cut and paste instead. */
export function DragSteps({ definition, editing, children }: Props): ReactNode {
  const [dragged, setDragged] = useState<string | null>(null)
  // A click that trembles is still a click.
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }))
  if (!editing) return children
  const step = allSteps(definition.steps).find(({ key }) => key === dragged)
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
      {children}
      <DragOverlay dropAnimation={null}>
        {step && <div className="panel px-2.5 py-1.5 font-medium">{labelOfStep(step)}</div>}
      </DragOverlay>
    </DndContext>
  )
}
