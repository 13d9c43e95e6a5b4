import type { ReactNode } from 'react'

interface Props {
  checked: boolean
  onChange: (checked: boolean) => void
  /** What it says. */
  children: ReactNode
  disabled?: boolean
  className?: string
}

/** A box to be ticked, with what it says beside it. */
export function TickField({
  checked,
  onChange,
  children,
  disabled,
  className = '',
}: Props): ReactNode {
  return (
    <label className={`flex items-center gap-2 ${className}`}>
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={checked}
        disabled={disabled}
        onChange={(event) => onChange(event.target.checked)}
      />
      {children}
    </label>
  )
}
