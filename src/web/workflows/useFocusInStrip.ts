import { useLayoutEffect, useRef, type FocusEvent, type RefObject } from 'react'

interface FocusInStrip {
  ref: RefObject<HTMLDivElement | null>
  onFocus: (event: FocusEvent) => void
  onBlur: (event: FocusEvent) => void
}

/**
 * Keeps the keyboard in a list whose items go when they are dealt with: it goes on to what has come in
 * their place, or to the list itself.
 */
export function useFocusInStrip(): FocusInStrip {
  const ref = useRef<HTMLDivElement>(null)
  /** The item that has the keyboard; null when none has. */
  const at = useRef<number | null>(null)
  useLayoutEffect(() => {
    if (at.current === null || document.activeElement !== document.body) return
    const items = itemsOf(ref.current)
    const next = items[Math.min(at.current, items.length - 1)]
    const target = next?.querySelector('button') ?? ref.current
    target?.focus()
  })
  return {
    ref,
    onFocus: ({ target }) => {
      const index = itemsOf(ref.current).findIndex((item) => item.contains(target))
      at.current = index === -1 ? 0 : index
    },
    // Only whoever goes elsewhere: what has been dealt with is not to be pressed again, and then goes.
    onBlur: ({ target }) => {
      if (!target.matches(':disabled')) at.current = null
    },
  }
}

const itemsOf = (list: HTMLElement | null): Element[] => [...(list?.querySelectorAll('li') ?? [])]
