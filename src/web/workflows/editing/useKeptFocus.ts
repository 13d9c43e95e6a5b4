import { useLayoutEffect, useMemo, useRef, type RefObject } from 'react'
import { afterNextFrame } from '../../ui/hooks/afterNextFrame.ts'

export interface KeptFocus {
  /** To be told of every item that gets the focus. */
  note: (item: HTMLElement) => void
  /** Takes the focus to what is selected once it is drawn: to a copy, from what it was made of. */
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
  // After every drawing: any may have taken away what had the focus.
  useLayoutEffect(() => {
    if (!last.current || last.current.item.isConnected) return
    const { back } = last.current
    last.current = null
    if (document.activeElement !== document.body) return
    const inFrame = (selector: string) => frame.current?.querySelector<HTMLElement>(selector)
    const to =
      (back !== null && inFrame(`[data-item="${CSS.escape(back)}"]`)) ||
      inFrame(SELECTED) ||
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
        const from = document.activeElement
        // A frame later: whatever takes the focus is laid out by itself.
        afterNextFrame(() => {
          if (document.activeElement !== from) return
          frame.current?.querySelector<HTMLElement>(SELECTED)?.focus()
        })
      },
    }),
    [frame, before],
  )
}

const SELECTED = '[data-item][aria-pressed="true"]'
