import { useDroppable } from '@dnd-kit/core'
import type { ReactNode } from 'react'
import { allBlocks, type Block } from '../../../../core/blocks/blocks.ts'
import type { Side } from '../blocks/blockEdits.ts'
import type { Box } from './marks.ts'

interface Props {
  blocks: readonly Block[]
  dragged: Block
  boxOf: (key: string) => Box | null
}

/** Where a dragged block can be put: the upper and the lower half of every other block. */
export function PaperDrops({ blocks, dragged, boxOf }: Props): ReactNode {
  const own = new Set(allBlocks([dragged]).map(({ key }) => key))
  const targets = dragged.kind === 'columns' ? blocks : allBlocks(blocks)
  return targets.map(({ key }) => {
    const box = own.has(key) ? null : boxOf(key)
    if (!box) return null
    const half = { ...box, height: box.height / 2 }
    return [
      <Drop key={`${key} before`} target={key} side="before" box={half} />,
      <Drop key={`${key} after`} target={key} side="after" box={{ ...half, top: box.top + half.height }} />,
    ]
  })
} // prettier-ignore

/** What a place to drop on carries. */
export interface DropPlace {
  target: string
  side: Side
}

function Drop({ target, side, box }: DropPlace & { box: Box }): ReactNode {
  const data: DropPlace = { target, side }
  const { setNodeRef, isOver } = useDroppable({ id: `${target} ${side}`, data: { ...data } })
  const edge = side === 'before' ? 'top-0' : 'bottom-0'
  return (
    <div ref={setNodeRef} className="absolute" style={box}>
      {isOver && <div data-drop className={`absolute inset-x-0 h-1 bg-primary ${edge}`} />}
    </div>
  )
}
