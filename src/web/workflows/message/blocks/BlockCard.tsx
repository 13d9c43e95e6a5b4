import { useSortable } from '@dnd-kit/sortable'
import { Copy, GripVertical, Trash2 } from 'lucide-react'
import type { KeyboardEvent, ReactNode } from 'react'
import type { Block } from '../../../../core/blocks/blocks.ts'
import { useSaved } from './keptBlocks.ts'
import { BLOCK_KINDS, blockWords } from './blockKinds.ts'

interface Props {
  block: Block
  isOpen: boolean
  onOpen: (key: string | null) => void
  onCopy: () => void
  onRemove: () => void
  /** Up (−1) or down (1). */
  onMove: (by: number) => void
  /** Its form, where it is open. */
  children: ReactNode
}

/** One block: what it is and says; opened, its form. Alt and an arrow key move it. */
export function BlockCard(props: Props): ReactNode {
  const { block, isOpen, onOpen, onCopy, onRemove, onMove, children } = props
  const { label, Icon } = BLOCK_KINDS[block.kind]
  const { all: kept } = useSaved()
  const keptName = block.kind === 'kept' && kept.find(({ id }) => id === block.kept)?.name
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id: block.key,
  })
  const onKeyDown = (event: KeyboardEvent) => {
    if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
    event.preventDefault()
    onMove(event.key === 'ArrowUp' ? -1 : 1)
  }
  return (
    <li
      ref={setNodeRef}
      className={`panel min-w-0 ${isOpen ? 'border-primary' : ''} ${isDragging ? 'opacity-60' : ''}`}
      style={{
        transform: transform ? `translateY(${transform.y}px)` : undefined,
        transition,
      }}
    >
      <div className="flex items-center gap-1 px-1.5 py-1">
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square cursor-grab"
          {...attributes}
          {...listeners}
          aria-label={`Move ${label}`}
          title="Drag, or press space and use the arrow keys"
        >
          <GripVertical size={14} aria-hidden="true" />
        </button>
        <button
          type="button"
          className="flex min-w-0 flex-1 items-center gap-2 py-1 text-left"
          aria-expanded={isOpen}
          data-block={block.key}
          onClick={() => onOpen(isOpen ? null : block.key)}
          onKeyDown={onKeyDown}
        >
          <Icon size={14} className="shrink-0" />
          <span className="shrink-0 font-medium">{label}</span>
          <span className="truncate text-xs text-secondary">
            {block.onlyIf && 'for some · '}
            {block.kind === 'kept' ? keptName : blockWords(block)}
          </span>
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={`Duplicate ${label}`}
          title="Duplicate"
          onClick={onCopy}
        >
          <Copy size={13} aria-hidden="true" />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label={`Remove ${label}`}
          title="Remove"
          onClick={onRemove}
        >
          <Trash2 size={13} aria-hidden="true" />
        </button>
      </div>
      {isOpen && <div className="border-t border-base-300 p-3 pb-1">{children}</div>}
    </li>
  )
}
