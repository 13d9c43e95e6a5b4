import { DndContext, KeyboardSensor, PointerSensor, closestCenter, useSensor, useSensors } from '@dnd-kit/core' // prettier-ignore
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable' // prettier-ignore
import type { ComponentType, ReactNode } from 'react'
import type { Block, BlockKind } from '../../../../core/blocks/blocks.ts'
import { AddBlock } from './AddBlock.tsx'
import { BlockCard } from './BlockCard.tsx'
import { moveBlock, replaceBlock, withCopy } from './blockEdits.ts'
import { newBlock } from './blockKinds.ts'

/** What the form of a block works with. */
export interface BlockFormProps {
  block: Block
  all: readonly Block[]
  kinds: readonly BlockKind[]
  onChange: (block: Block, touching?: string) => void
  /** It is kept for several messages: it has no condition of its own. */
  isKept?: boolean
  isInColumn?: boolean
}

interface Props<One extends Block> {
  blocks: readonly One[]
  /** All blocks of the message, whose keys must differ. */
  all: readonly Block[]
  onChange: (blocks: One[], touching?: string) => void
  kinds: readonly BlockKind[]
  open: string | null
  onOpen: (key: string | null) => void
  /** What is said where there are none. */
  empty: string
  Form: ComponentType<BlockFormProps>
}

const BY_POINTER = { activationConstraint: { distance: 6 } }
const BY_KEYBOARD = { coordinateGetter: sortableKeyboardCoordinates }

/** The blocks of a message in their reading order: opened, moved, copied, taken out, added to. */
export function BlockList<One extends Block>(props: Props<One>): ReactNode {
  const { blocks, all, onChange, kinds, open, onOpen, empty, Form } = props
  const sensors = useSensors(
    useSensor(PointerSensor, BY_POINTER),
    useSensor(KeyboardSensor, BY_KEYBOARD),
  )
  const add = (kind: BlockKind, kept: string | undefined, at: number) => {
    const made = newBlock(all, kind)
    const block = (kept === undefined ? made : { ...made, kept }) as One
    onChange([...blocks.slice(0, at), block, ...blocks.slice(at)])
    onOpen(block.key)
  }
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        const from = blocks.findIndex(({ key }) => key === active.id)
        const to = blocks.findIndex(({ key }) => key === over?.id)
        if (from !== -1 && to !== -1 && from !== to) onChange(moveBlock(blocks, from, to))
      }}
    >
      <SortableContext items={blocks.map(({ key }) => key)} strategy={verticalListSortingStrategy}>
        <ol className="flex flex-col gap-1.5" aria-label="Blocks">
          {blocks.map((block, index) => (
            <BlockCard
              key={block.key}
              block={block}
              isOpen={block.key === open}
              onOpen={onOpen}
              onCopy={() => onChange(replaceBlock(blocks, block.key, withCopy(block, all)))}
              onRemove={() => onChange(replaceBlock(blocks, block.key, []))}
              onMove={(by) => onChange(moveBlock(blocks, index, index + by))}
            >
              {block.key === open && (
                <Form
                  block={block}
                  all={all}
                  kinds={kinds}
                  onChange={(to, touching) =>
                    onChange(replaceBlock(blocks, block.key, [to as One]), touching)
                  }
                />
              )}
            </BlockCard>
          ))}
        </ol>
      </SortableContext>
      {blocks.length === 0 && <p className="py-2 text-secondary">{empty}</p>}
      <AddBlock kinds={kinds} onAdd={(kind, saved) => add(kind, saved, placeAfter(blocks, open))} />
    </DndContext>
  )
} // prettier-ignore

/** New blocks go behind the one that is open, else to the end. */
function placeAfter(blocks: readonly Block[], open: string | null): number {
  const index = blocks.findIndex(({ key }) => key === open)
  return index === -1 ? blocks.length : index + 1
}
