import { Command } from 'cmdk'
import { Bookmark, Plus } from 'lucide-react'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import type { BlockKind } from '../../../../core/blocks/blocks.ts'
import { useOutside } from '../../../ui/hooks/useOutside.ts'
import { useSaved } from './keptBlocks.ts'
import { BLOCK_KINDS } from './blockKinds.ts'

interface Props {
  kinds: readonly BlockKind[]
  /** With its id, for what is kept. */
  onAdd: (kind: BlockKind, saved?: string) => void
  /** Among other small tools, known by its sign. */
  isSmall?: boolean
}

/** The list of blocks that can be added, narrowed as one types. */
export function AddBlock({ kinds, onAdd, isSmall = false }: Props): ReactNode {
  const [open, setOpen] = useState(false)
  const { all: kept } = useSaved()
  const box = useRef<HTMLDivElement>(null)
  const input = useRef<HTMLInputElement>(null)
  useOutside([box], () => setOpen(false), open)
  useEffect(() => {
    if (!open) return
    input.current?.focus()
    box.current?.scrollIntoView({ block: 'nearest' })
  }, [open])
  return (
    <div ref={box} className={isSmall ? 'relative' : 'mt-2'}>
      <button
        type="button"
        className={isSmall ? 'btn btn-ghost btn-xs btn-square' : 'btn btn-sm'}
        aria-expanded={open}
        aria-label={isSmall ? 'A block below' : undefined}
        title={isSmall ? 'A block below' : undefined}
        onClick={() => setOpen(!open)}
      >
        <Plus size={14} aria-hidden="true" /> {!isSmall && 'Add a block'}
      </button>
      {open && (
        <Command
          label="Blocks"
          className={`panel mt-1 p-1 ${isSmall ? 'absolute top-7 right-0 z-40 w-80' : ''}`}
          onKeyDown={(event) => {
            event.stopPropagation()
            if (event.key === 'Escape') setOpen(false)
          }}
        >
          <Command.Input ref={input} className="input input-sm w-full" placeholder="Which?" />
          <Command.List className="mt-1 max-h-64 overflow-y-auto">
            {kinds.map((kind) => {
              const { label, hint, Icon } = BLOCK_KINDS[kind]
              return (
                <Command.Item
                  key={kind}
                  value={`${label} ${hint}`}
                  className="flex cursor-pointer items-center gap-2 rounded-field px-2 py-1.5 data-[selected=true]:bg-base-200"
                  onSelect={() => {
                    setOpen(false)
                    onAdd(kind)
                  }}
                >
                  <Icon size={14} className="shrink-0" />
                  <span>{label}</span>
                  <span className="truncate text-xs text-secondary">{hint}</span>
                </Command.Item>
              )
            })}
            {kept.map(({ id, name }) => (
              <Command.Item
                key={id}
                value={`Kept: ${name} ${id}`}
                className="flex cursor-pointer items-center gap-2 rounded-field px-2 py-1.5 data-[selected=true]:bg-base-200"
                onSelect={() => {
                  setOpen(false)
                  onAdd('kept', id)
                }}
              >
                <Bookmark size={14} className="shrink-0" />
                <span>{name}</span>
                <span className="truncate text-xs text-secondary">kept for all messages</span>
              </Command.Item>
            ))}
          </Command.List>
        </Command>
      )}
    </div>
  )
}
