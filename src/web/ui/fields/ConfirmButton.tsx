import { useEffect, useRef, useState, type ReactNode } from 'react'

interface Props {
  label: ReactNode
  /** Exactly what will happen, and to how many people. */
  consequence: string
  /** The verb on the button that does it. */
  confirm: string
  onConfirm: () => void
  className?: string
  ariaLabel?: string
  disabled?: boolean
}

/** A button that says what will happen before it happens. */
export function ConfirmButton(props: Props): ReactNode {
  const {
    label,
    consequence,
    confirm,
    onConfirm,
    className = 'btn btn-sm',
    ariaLabel,
    disabled,
  } = props
  const [open, setOpen] = useState(false)
  const frame = useRef<HTMLSpanElement>(null)
  const opener = useRef<HTMLButtonElement>(null)
  useEffect(() => {
    if (!open) return undefined
    frame.current?.querySelector<HTMLElement>('[data-confirm]')?.focus()
    const outside = (event: PointerEvent) => {
      if (!frame.current?.contains(event.target as Node)) setOpen(false)
    }
    document.addEventListener('pointerdown', outside)
    return () => document.removeEventListener('pointerdown', outside)
  }, [open])
  const close = () => {
    setOpen(false)
    opener.current?.focus()
  }
  return (
    <span ref={frame} className="relative inline-block">
      <button
        ref={opener}
        type="button"
        className={className}
        aria-label={ariaLabel}
        aria-expanded={open}
        disabled={disabled}
        onClick={() => setOpen(!open)}
      >
        {label}
      </button>
      {open && (
        <span
          role="alertdialog"
          tabIndex={-1}
          aria-label={confirm}
          className="panel absolute top-full right-0 z-40 mt-1 block w-72 p-3 text-left"
          onKeyDown={(event) => {
            if (event.key === 'Escape') close()
          }}
        >
          <span className="block">{consequence}</span>
          <span className="mt-3 flex justify-end gap-2">
            <button type="button" className="btn btn-ghost btn-sm" onClick={close}>
              Leave it
            </button>
            <button
              type="button"
              data-confirm
              className="btn btn-primary btn-sm"
              onClick={() => {
                close()
                onConfirm()
              }}
            >
              {confirm}
            </button>
          </span>
        </span>
      )}
    </span>
  )
}
