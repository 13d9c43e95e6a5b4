import { useState, type ReactNode } from 'react'
import type { Place } from '../../../core/workflow/lists.ts'
import type { StepKind } from '../../../core/workflow/steps.ts'
import { StepMenu } from './StepMenu.tsx'

interface Props {
  place: Place
  /** For those who do not see where it is. */
  label: string
  /** The item it comes after: "/" pressed there opens it. */
  after: string
  onInsert: (place: Place, kind: StepKind) => void
  onOpen?: (open: boolean) => void
}

/** A "+" at a place where a step can go, and the list of what can go there. */
export function AddHere({ place, label, after, onInsert, onOpen }: Props): ReactNode {
  const [open, setOpen] = useState(false)
  const show = (shown: boolean) => {
    setOpen(shown)
    onOpen?.(shown)
  }
  return (
    <>
      <button
        type="button"
        className="plus"
        aria-label={label}
        aria-expanded={open}
        data-after={after}
        data-place={`${place.list ? `${place.list.fork}/${place.list.branch ?? 'otherwise'}` : 'root'}:${place.index}`}
        onClick={() => show(!open)}
      />
      {open && (
        <StepMenu
          onClose={() => show(false)}
          onPick={(kind) => {
            show(false)
            onInsert(place, kind)
          }}
        />
      )}
    </>
  )
}
