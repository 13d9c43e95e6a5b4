import { useDraggable } from '@dnd-kit/core'
import { ArrowDown, ArrowUp, Copy, GripVertical, Trash2 } from 'lucide-react'
import type { ComponentType, ReactNode } from 'react'
import type { Block, BlockKind } from '../../../../core/blocks/blocks.ts'
import { AddBlock } from '../blocks/AddBlock.tsx'

interface Props {
  blockKey: string
  name: string
  kinds: readonly BlockKind[]
  onMove: (by: number) => void
  onCopy: () => void
  onRemove: () => void
  onAdd: (kind: BlockKind, kept?: string) => void
}

/** What can be done with the block that is marked on the message, right where it stands. */
export function PaperTools({
  blockKey,
  name,
  kinds,
  onMove,
  onCopy,
  onRemove,
  onAdd,
}: Props): ReactNode {
  return (
    <div
      role="toolbar"
      aria-label={name}
      className="flex items-center gap-0.5 rounded-field border border-primary bg-base-100 p-0.5 shadow-sm"
    >
      <Grip id={blockKey} />
      <Tool label="Up" Icon={ArrowUp} onClick={() => onMove(-1)} />
      <Tool label="Down" Icon={ArrowDown} onClick={() => onMove(1)} />
      <Tool label="Duplicate" Icon={Copy} onClick={onCopy} />
      <Tool label="Remove" Icon={Trash2} onClick={onRemove} />
      <AddBlock kinds={kinds} onAdd={onAdd} isSmall />
    </div>
  )
}

/** Drags the block to another place. By keyboard, Up and Down move it, so this is no stop of it. */
function Grip({ id }: { id: string }): ReactNode {
  const { setNodeRef, listeners } = useDraggable({ id })
  return (
    <span
      ref={setNodeRef}
      {...listeners}
      title="Drag to another place"
      data-grip={id}
      className="btn btn-ghost btn-xs btn-square cursor-grab touch-none"
    >
      <GripVertical size={13} aria-hidden="true" />
    </span>
  )
}

interface ToolProps {
  label: string
  Icon: ComponentType<{ size: number; 'aria-hidden': 'true' }>
  onClick: () => void
}

function Tool({ label, Icon, onClick }: ToolProps): ReactNode {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-xs btn-square"
      aria-label={label}
      title={label}
      onClick={onClick}
    >
      <Icon size={13} aria-hidden="true" />
    </button>
  )
}

/** True for blocks whose words are written on the message itself. */
export const isWritten = ({ kind }: Block): boolean =>
  kind === 'coupon' || kind === 'heading' || kind === 'text' || kind === 'button' || kind === 'tracking' || kind === 'help' // prettier-ignore
