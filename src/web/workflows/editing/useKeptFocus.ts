import { useLayoutEffect, useRef, type RefObject } from 'react'

/**
 * Keeps the keyboard where something has gone from under it: on what stood before it, else on what
 * is selected, else at the start. Returns what is to be told of every item that gets the focus.
 */
export function useKeptFocus(
  frame: RefObject<HTMLElement | null>,
  before: (id: string) => string | null,
): (item: HTMLElement) => void {
  const last = useRef<{ item: HTMLElement; back: string | null } | null>(null)
  // After every drawing: any may have taken away what had the focus.
  useLayoutEffect(() => {
    if (!last.current || last.current.item.isConnected) return
    const { back } = last.current
    last.current = null
    if (document.activeElement !== document.body) return
    const inFrame = (selector: string) => frame.current?.querySelector<HTMLElement>(selector)
    const to =
      (back !== null && inFrame(`[data-item="${CSS.escape(back)}"]`)) ||
      inFrame('[data-item][aria-pressed="true"]') ||
      inFrame('[data-item]')
    if (to) to.focus()
  })
  return (item) => {
    const id = item.dataset['item']
    if (id !== undefined) last.current = { item, back: before(id) }
  }
}
