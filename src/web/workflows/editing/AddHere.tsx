import { useRef, useState, type ReactNode } from 'react'
import type { Place } from '../../../core/workflow/lists.ts'
import type { StepKind } from '../../../core/workflow/steps.ts'
import { MENU_WIDTH, StepMenu } from './StepMenu.tsx'

interface Props {
  place: Place
  /** For those who do not see where it is. */
  label: string
  /** The item it comes after: "/" pressed there opens it. */
  after: string
  onInsert: (place: Place, kind: StepKind) => void
  onOpen?: (open: boolean) => void
  /** Where it stands on a timetable; else it stands where it is put. */
  left?: number
  top?: number
}

/** A "+" at a place where a step can go, and the list of what can go there. */
export function AddHere(props: Props): ReactNode {
  const { place, label, after, onInsert, onOpen, left, top } = props
  const [open, setOpen] = useState(false)
  const button = useRef<HTMLButtonElement>(null)
  const [toLeft, setToLeft] = useState(false)
  const show = (shown: boolean) => {
    if (shown) setToLeft(hasNoRoom(button.current))
    setOpen(shown)
    onOpen?.(shown)
  }
  return (
    <>
      <button
        ref={button}
        type="button"
        className={left === undefined ? 'plus' : 'plus absolute z-[5]'}
        style={left === undefined ? undefined : { left, top }}
        aria-label={label}
        aria-expanded={open}
        data-after={after}
        data-place={`${place.list ? `${place.list.branching}/${place.list.branch ?? 'otherwise'}` : 'root'}:${place.index}`}
        onClick={() => show(!open)}
      />
      {open && (
        <div className="absolute z-30" style={{ left: left ?? 0, top: top ?? 0 }}>
          <StepMenu
            button={button}
            toLeft={toLeft}
            onClose={() => show(false)}
            onPick={(kind) => {
              show(false)
              onInsert(place, kind)
            }}
          />
        </div>
      )}
    </>
  )
}

/** True where the list, put to the right of a "+", would run out of its frame, and to the left would not. */
function hasNoRoom(button: HTMLElement | null): boolean {
  const frame = button?.closest('[role="group"]')
  if (!button || !frame) return false
  const [own, around] = [button.getBoundingClientRect(), frame.getBoundingClientRect()]
  return own.left + MENU_WIDTH > around.right && own.right - MENU_WIDTH > around.left
}
