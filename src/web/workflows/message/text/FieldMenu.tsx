import { Command } from 'cmdk'
import { Braces } from 'lucide-react'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import { newTag } from '../../../../core/messages/mergeFields.ts'
import { useOutside } from '../../../ui/hooks/useOutside.ts'
import { useFields } from './fieldContext.ts'

interface Props {
  /** What it is put into, for its name. */
  into: string
  onPick: (tag: string) => void
}

/** The merge fields that the workflow's trigger can fill, found by typing, each with a value it has now. */
export function FieldMenu({ into, onPick }: Props): ReactNode {
  const [open, setOpen] = useState(false)
  const place = useRef<HTMLSpanElement>(null)
  useOutside([place], () => setOpen(false), open)
  return (
    <span ref={place} className="relative">
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square"
        aria-label={`Put a merge field into ${into}`}
        title="Merge field"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        <Braces size={14} aria-hidden="true" />
      </button>
      {open && (
        <Menu
          onClose={() => setOpen(false)}
          onPick={(tag) => {
            setOpen(false)
            onPick(tag)
          }}
        />
      )}
    </span>
  )
}

function Menu({ onPick, onClose }: Pick<Props, 'onPick'> & { onClose: () => void }): ReactNode {
  const { fields, values, site } = useFields()
  const menu = useRef<HTMLDivElement>(null)
  const input = useRef<HTMLInputElement>(null)
  useEffect(() => {
    input.current?.focus()
    menu.current?.scrollIntoView({ block: 'nearest' })
  }, [])
  return (
    <Command
      ref={menu}
      label="Merge fields"
      className="panel absolute top-7 right-0 z-40 w-80 p-1"
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key === 'Escape') onClose()
      }}
    >
      <Command.Input
        ref={input}
        className="input input-sm w-full"
        placeholder="Find a field: name, total, date …"
      />
      <Command.List className="mt-1 max-h-72 overflow-y-auto">
        <Command.Empty className="px-2 py-3 text-secondary">There is no such field.</Command.Empty>
        {fields.map((field) => (
          <Command.Item
            key={field.key}
            value={`${field.label} ${field.key}`}
            className="cursor-pointer rounded-field px-2 py-1 data-[selected=true]:bg-base-200"
            onSelect={() => onPick(newTag(field, site))}
          >
            <span className="block">{field.label}</span>
            <span className="block truncate text-xs text-secondary">
              {values[field.key] ?? 'not known of this one'}
            </span>
          </Command.Item>
        ))}
      </Command.List>
    </Command>
  )
}
