import { useLayoutEffect, useRef, type MouseEvent, type RefObject } from 'react'
import { useOutside } from './useOutside.ts'

/** What was pressed, and where the keyboard goes when it is there no more: the nearest first. */
interface Pressed {
  element: HTMLElement
  near: readonly HTMLElement[]
}

/**
 * Keeps the keyboard on a button that is moved; where it has gone with what it stood for, on what stands
 * before it, else on what comes next, else on what `other` finds. To be told of every press inside the place, before what
 * follows from it.
 */
export function useFocusNear(
  place: RefObject<HTMLElement | null>,
  other?: () => HTMLElement | null,
): (event: MouseEvent) => void {
  const pressed = useRef<Pressed | null>(null)
  useOutside([place], () => {
    pressed.current = null
  })
  // After every drawing: any may take away, or disable, what was pressed.
  useLayoutEffect(() => {
    if (!pressed.current || document.activeElement !== document.body) return
    const { element, near } = pressed.current
    // What is put elsewhere in a list loses it, too.
    const next = isThere(element) ? element : (near.find(isThere) ?? other?.())
    if (!next) return
    next.focus()
    // This may go as well, a moment later.
    pressed.current = { element: next, near }
  })
  return ({ target }) => {
    const all = [...(place.current?.querySelectorAll<HTMLElement>(FOCUSABLE) ?? [])]
    const at = all.findIndex((one) => one.contains(target as Node))
    const element = all[at]
    pressed.current = element
      ? { element, near: [...all.slice(0, at).toReversed(), ...all.slice(at + 1)] }
      : null
  }
}

/** The first thing in a place that can have the keyboard. */
export const firstFocusable = (place: HTMLElement | null): HTMLElement | null =>
  place?.querySelector<HTMLElement>(FOCUSABLE) ?? null

const FOCUSABLE =
  ':is(a[href], button, input, select, textarea, summary):not(:disabled), [contenteditable="true"]'

const isThere = (element: HTMLElement): boolean =>
  element.isConnected && !element.matches(':disabled')
