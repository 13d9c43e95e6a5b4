import { Plus } from 'lucide-react'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import type { Timetable } from '../../../core/timetable/layout.ts'
import type { Place } from '../../../core/workflow/lists.ts'
import type { StepKind } from '../../../core/workflow/steps.ts'
import { STEP_KINDS } from '../newSteps.ts'
import { insertPoint, type Geometry } from './geometry.ts'
import { STEP_ICONS } from './stepIcons.ts'

interface Props {
  layout: Timetable
  geometry: Geometry
  onInsert: (place: Place, kind: StepKind) => void
}

/** A "+" on every line, and the list of what can go there. */
export function InsertPoints({ layout, geometry, onInsert }: Props): ReactNode {
  const [open, setOpen] = useState<string | null>(null)
  const byId = new Map(layout.items.map((item) => [item.id, item]))
  return layout.links.map(({ from, to, place }) => {
    const start = byId.get(from)
    const end = byId.get(to)
    if (!place || !start || !end) return null
    const id = `${from} ${to}`
    const { x, y } = insertPoint(geometry.boxOf(start), geometry.boxOf(end))
    return (
      <div
        key={id}
        className={`absolute ${open === id ? 'z-30' : 'z-[5]'}`}
        style={{ left: x - 9, top: y - 9 }}
      >
        <button
          type="button"
          className="grid h-[18px] w-[18px] place-items-center rounded-full border border-base-300 bg-base-100 text-secondary hover:border-primary hover:bg-primary hover:text-primary-content"
          aria-label={`Add after ${start.key ?? 'start'}, before ${end.key ?? 'end'}`}
          aria-expanded={open === id}
          data-place={`${place.list ? `${place.list.fork}/${place.list.branch ?? 'otherwise'}` : 'root'}:${place.index}`}
          onClick={() => setOpen(open === id ? null : id)}
        >
          <Plus size={12} />
        </button>
        {open === id && (
          <StepMenu
            onClose={() => setOpen(null)}
            onPick={(kind) => {
              setOpen(null)
              onInsert(place, kind)
            }}
          />
        )}
      </div>
    )
  })
}

function StepMenu({
  onPick,
  onClose,
}: {
  onPick: (kind: StepKind) => void
  onClose: () => void
}): ReactNode {
  const menu = useRef<HTMLDivElement>(null)
  useEffect(() => {
    menu.current?.querySelector('button')?.focus()
    const outside = (event: PointerEvent) => {
      if (!menu.current?.parentElement?.contains(event.target as Node)) onClose()
    }
    document.addEventListener('pointerdown', outside)
    return () => document.removeEventListener('pointerdown', outside)
  }, [onClose])
  return (
    <div
      ref={menu}
      role="menu"
      tabIndex={-1}
      aria-label="What to add"
      className="panel absolute top-6 left-0 max-h-80 w-72 overflow-y-auto p-1"
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key === 'Escape') onClose()
        if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
          event.preventDefault()
          const sibling =
            event.key === 'ArrowDown'
              ? document.activeElement?.nextElementSibling
              : document.activeElement?.previousElementSibling
          if (sibling instanceof HTMLElement) sibling.focus()
        }
      }}
    >
      {STEP_KINDS.map(({ kind, group, label, hint }, index) => {
        const Icon = STEP_ICONS[kind]
        const isFirst = STEP_KINDS[index - 1]?.group !== group
        return (
          <button
            key={kind}
            type="button"
            role="menuitem"
            aria-label={`${label}: ${hint}`}
            className={`flex w-full items-center gap-2 rounded-field px-2 py-1 text-left whitespace-nowrap hover:bg-base-200 focus:bg-base-200 ${isFirst && index > 0 ? 'mt-1 border-t border-base-300 pt-1.5' : ''}`}
            onClick={() => onPick(kind)}
          >
            <Icon size={14} aria-hidden="true" />
            <span className="font-medium">{label}</span>
            <span className="truncate text-xs text-secondary">{hint}</span>
          </button>
        )
      })}
    </div>
  )
}
