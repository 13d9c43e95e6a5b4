import { useLayoutEffect, useMemo, useRef, type RefObject } from 'react'

export interface KeptFocus {
  /** To be told of every item that gets the focus. */
  note: (item: HTMLElement) => void
  /** Takes the focus to what is selected by the next drawing: to a copy, from what it was made of. */
  follow: () => void
}

/**
 * Keeps the keyboard where something has gone from under it: on what stood before it, else on what
 * is selected, else at the start.
 */
export function useKeptFocus(
  frame: RefObject<HTMLElement | null>,
  before: (id: string) => string | null,
): KeptFocus {
  const last = useRef<{ item: HTMLElement; back: string | null } | null>(null)
  const follows = useRef(false)
  // After every drawing: any may have taken away what had the focus.
  useLayoutEffect(() => {
    const inFrame = (selector: string) => frame.current?.querySelector<HTMLElement>(selector)
    const selected = () => inFrame('[data-item][aria-pressed="true"]')
    if (follows.current) {
      follows.current = false
      selected()?.focus()
    }
    if (!last.current || last.current.item.isConnected) return
    const { back } = last.current
    last.current = null
    if (document.activeElement !== document.body) return
    const to =
      (back !== null && inFrame(`[data-item="${CSS.escape(back)}"]`)) ||
      selected() ||
      inFrame('[data-item]')
    if (to) to.focus()
  })
  return useMemo(
    () => ({
      note: (item) => {
        const id = item.dataset['item']
        if (id !== undefined) last.current = { item, back: before(id) }
      },
      follow: () => {
        follows.current = true
      },
    }),
    [before],
  )
}
