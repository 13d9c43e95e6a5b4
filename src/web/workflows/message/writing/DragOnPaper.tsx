import { DndContext, MeasuringStrategy, PointerSensor, pointerWithin, useSensor, useSensors, type DragMoveEvent } from '@dnd-kit/core' // prettier-ignore
import { useState, type ReactNode } from 'react'
import type { Block } from '../../../../core/blocks/blocks.ts'
import type { Side } from '../blocks/blockEdits.ts'
import { PaperDrops, type DropPlace } from './PaperDrops.tsx'
import type { Paper } from './usePaper.ts'

interface Props {
  paper: Omit<Paper, 'setHost'>
  blocks: readonly Block[]
  find: (key: string) => Block | undefined
  onDrop: (key: string, target: string, side: Side) => void
  children: ReactNode
}

const SENSOR = { activationConstraint: { distance: 5 } }
// The message scrolls under what is dragged: the places to drop move with it.
const MEASURING = { droppable: { strategy: MeasuringStrategy.Always } }

/** What lies over the message: the marks and tools of its blocks, and a block that is dragged. */
export function DragOnPaper({ paper, blocks, find, onDrop, children }: Props): ReactNode {
  const [dragged, setDragged] = useState<Block | null>(null)
  const sensors = useSensors(useSensor(PointerSensor, SENSOR))
  const { host, frame } = paper
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      measuring={MEASURING}
      autoScroll={false}
      onDragStart={({ active }) => setDragged(find(String(active.id)) ?? null)}
      onDragMove={(event) => scrollAtEdge(event, host, frame)}
      onDragCancel={() => setDragged(null)}
      onDragEnd={({ active, over }) => {
        setDragged(null)
        const place = over?.data.current as DropPlace | undefined
        if (place) onDrop(String(active.id), place.target, place.side)
      }}
    >
      {/* While something is dragged the frame must not take the pointer's moves for itself. */}
      <div
        className={`absolute inset-0 overflow-hidden ${dragged ? 'cursor-grabbing' : 'pointer-events-none'}`}
        onWheel={({ deltaY }) => frame?.contentWindow?.scrollBy(0, deltaY)}
      >
        {children}
        {dragged && <PaperDrops blocks={blocks} dragged={dragged} boxOf={paper.boxOf} />}
      </div>
    </DndContext>
  )
}

const EDGE = 48
const STEP = 24

/** Near the upper or lower edge of what is seen, the message scrolls on. */
function scrollAtEdge(
  { activatorEvent, delta }: DragMoveEvent,
  host: HTMLElement | null,
  frame: HTMLIFrameElement | null,
): void {
  if (!host || !(activatorEvent instanceof PointerEvent)) return
  const { top, bottom } = host.getBoundingClientRect()
  const at = activatorEvent.clientY + delta.y
  if (at < top + EDGE) frame?.contentWindow?.scrollBy(0, -STEP)
  if (at > bottom - EDGE) frame?.contentWindow?.scrollBy(0, STEP)
}
