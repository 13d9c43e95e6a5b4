import { Command } from 'cmdk'
import { useEffect, useRef, type ReactNode, type RefObject } from 'react'
import type { StepKind } from '../../../core/workflow/steps.ts'
import { useOutside } from '../../ui/hooks/useOutside.ts'
import { STEP_KINDS, STEP_LOOKS } from '../stepLooks.ts'

interface Props {
  /** What opens it, and closes it again. */
  button: RefObject<HTMLElement | null>
  /** Stands to the left of it. */
  toLeft: boolean
  onPick: (kind: StepKind) => void
  onClose: () => void
}

const GROUPS = [...new Set(STEP_KINDS.map((kind) => STEP_LOOKS[kind].group))]

/** In pixels, and a little room. */
export const MENU_WIDTH = 292

/** How well something that can be added fits what was typed: its name before its explanation. */
function rankOf(value: string, typed: string): number {
  const wanted = typed.trim().toLowerCase()
  const [label = '', hint = ''] = value.toLowerCase().split(': ')
  if (label === wanted) return 1
  if (label.startsWith(wanted)) return 0.8
  if (label.includes(wanted)) return 0.6
  return hint.includes(wanted) ? 0.4 : 0
}

/** The list of what can be added, narrowed as one types. */
export function StepMenu({ button, toLeft, onPick, onClose }: Props): ReactNode {
  const menu = useRef<HTMLDivElement>(null)
  const input = useRef<HTMLInputElement>(null)
  const opener = useRef(document.activeElement)
  useEffect(() => {
    input.current?.focus()
    menu.current?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [])
  useOutside([menu, button], onClose)
  return (
    <Command
      ref={menu}
      label="What to add"
      filter={rankOf}
      className={`panel absolute top-6 w-72 p-1 font-normal ${toLeft ? '-right-[18px]' : 'left-0'}`}
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key !== 'Escape') return
        onClose()
        if (opener.current instanceof HTMLElement) opener.current.focus()
      }}
    >
      <Command.Input
        ref={input}
        placeholder="What to add: type or choose"
        className="input input-sm mb-1 w-full"
      />
      <Command.List className="max-h-72 overflow-y-auto">
        <Command.Empty className="px-2 py-1 text-secondary">
          There is nothing like it.
        </Command.Empty>
        {GROUPS.map((group) => (
          <Command.Group
            key={group}
            heading={group}
            className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-secondary"
          >
            {STEP_KINDS.filter((kind) => STEP_LOOKS[kind].group === group).map((kind) => {
              const { icon: Icon, label, hint } = STEP_LOOKS[kind]
              return (
                <Command.Item
                  key={kind}
                  value={`${label}: ${hint}`}
                  aria-label={`${label}: ${hint}`}
                  className="flex w-full cursor-pointer items-center gap-2 rounded-field px-2 py-1 whitespace-nowrap data-[selected=true]:bg-base-200"
                  onSelect={() => onPick(kind)}
                >
                  <Icon size={14} aria-hidden="true" />
                  <span className="font-medium">{label}</span>
                  <span className="truncate text-xs text-secondary">{hint}</span>
                </Command.Item>
              )
            })}
          </Command.Group>
        ))}
      </Command.List>
    </Command>
  )
}
