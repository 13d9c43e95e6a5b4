import type { ComponentType, ReactNode } from 'react'

interface Props {
  label: string
  Icon: ComponentType<{ size: number }>
  on: boolean
  onClick: () => void
}

/** A small button that is on or off, known by its icon and its name. */
export function IconToggle({ label, Icon, on, onClick }: Props): ReactNode {
  return (
    <button
      type="button"
      className={`btn btn-xs btn-square ${on ? 'btn-neutral' : 'btn-ghost'}`}
      aria-label={label}
      title={label}
      aria-pressed={on}
      onClick={onClick}
    >
      <Icon size={14} />
    </button>
  )
}
