import { useLayoutEffect, useRef, type FocusEvent, type KeyboardEvent, type RefObject } from 'react'
import type { Selection } from '../selection.ts'

/** What had the focus when the inspector was asked to take the cursor, until it has drawn where to. */
let askedFrom: Element | null = null

/** Puts the cursor into the inspector's first field, once it shows what has just been selected. */
export function focusInspector(): void {
  askedFrom = document.activeElement
  // It may show that already, and then nothing is drawn that would put the cursor there.
  requestAnimationFrame(() => {
    const inspector = document.querySelector<HTMLElement>('[data-inspector]')
    if (inspector && inspector.ariaBusy !== 'true') takeCursor(inspector)
  })
}

/**
 * Has the inspector take the cursor it was asked to take together with the form that it goes into:
 * a moment later it would go from wherever one has clicked by then. `shown` is null until it is there.
 */
export function useAskedFocus(
  inspector: RefObject<HTMLElement | null>,
  shown: Selection | null,
): void {
  useLayoutEffect(() => {
    if (shown && inspector.current) takeCursor(inspector.current)
  }, [inspector, shown])
}

function takeCursor(inspector: HTMLElement): void {
  const from = askedFrom
  askedFrom = null
  const now = document.activeElement
  // Not from whoever has gone elsewhere meanwhile; at the heading a page only begins.
  if (!from || (now !== from && now !== document.body && !now?.matches('h1'))) return
  const field = inspector.querySelector<HTMLElement>(FIELD)
  field?.focus()
  // A split has nothing to type: what has been added is walked on from.
  if (!field) focusSelected()
  // As if one had come with the Tab key: what is typed takes the place of what is there.
  if (field instanceof HTMLInputElement) field.select()
}

const FIELD = ':is(input, select, textarea):not(:disabled), [contenteditable="true"]'

/** True while somebody is in one of the inspector's fields. */
export function isInInspector(): boolean {
  return Boolean(document.activeElement?.closest('[data-inspector]'))
}

/** Puts the keyboard on what is selected on the timetable, else on what is in sight, if nothing else has it. */
export function focusSelected(): void {
  if (document.activeElement === document.body) (selectedItem() ?? itemInSight())?.focus()
}

/**
 * Keeps the keyboard when the form that had it goes, because something else is selected or what it was
 * about is undone: on what was selected before, else on something on the timetable that can be seen.
 * Returns what the inspector has to tell of.
 */
export function useFormGone(inspector: RefObject<HTMLElement | null>) {
  const hadIt = useRef(false)
  const selected = useRef<HTMLElement | null>(null)
  // After every drawing: any may take the form away.
  useLayoutEffect(() => {
    if (hadIt.current && document.activeElement === document.body) {
      const at = selected.current?.isConnected ? selected.current : itemInSight()
      at?.focus()
    }
    selected.current = document.querySelector<HTMLElement>(SELECTED) ?? selected.current
  })
  return {
    onFocus: () => {
      hadIt.current = true
    },
    onBlur: ({ relatedTarget }: FocusEvent) => {
      hadIt.current = inspector.current?.contains(relatedTarget) ?? false
    },
  }
}

const SELECTED = '[data-item][aria-pressed="true"], [data-rule][aria-pressed="true"]'

/** Something on the timetable or outline that can be seen; where there is none, what the page begins with. */
export function itemInSight(): HTMLElement | null {
  const items = [...document.querySelectorAll<HTMLElement>('[data-item]')]
  const isInSight = (item: HTMLElement) => {
    const frame = item.closest('[role="group"]')?.getBoundingClientRect()
    const { left, top, right, bottom } = item.getBoundingClientRect()
    return (
      frame &&
      left >= frame.left &&
      top >= frame.top &&
      right <= frame.right &&
      bottom <= frame.bottom
    )
  }
  const begin = document.querySelector<HTMLElement>(':is(h1, h2)[tabindex]')
  return items.find(isInSight) ?? items[0] ?? begin
}

const selectedItem = () => document.querySelector<HTMLElement>('[data-item][aria-pressed="true"]')

/** From a field back to what is selected on the timetable. */
export function leaveOnEscape(event: KeyboardEvent): void {
  if (event.key !== 'Escape') return
  selectedItem()?.focus()
}
