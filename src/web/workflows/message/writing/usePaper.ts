import { useCallback, useEffect, useReducer, useRef, useState } from 'react'
import { useLatest } from '../../../ui/hooks/useLatest.ts'
import { boxAround, drawnOf, keyAt, type Box } from './marks.ts'

export interface Paper {
  /** What the frame and what is drawn over it stand in. */
  host: HTMLDivElement | null
  setHost: (host: HTMLDivElement | null) => void
  frame: HTMLIFrameElement | null
  /** Grows each time something may have come to stand elsewhere. */
  moves: number
  hovered: string | null
  /** Called when the message has been drawn anew. */
  onDrawn: (frame: HTMLIFrameElement) => void
  boxOf: (key: string) => Box | null
  /** Puts the keyboard on a block of the message, now and once it is drawn anew. */
  focusBlock: (key: string | null) => void
}

interface Heard {
  /** A block was pressed, or none; where, from the corner of the window. */
  onPress: (key: string | null, at: { x: number; y: number }) => void
  onKey: (key: string, event: KeyboardEvent) => void
  /** What each block is called, for those who do not see it. */
  nameOf: (key: string) => string | null
}

/** Listens to the frame that a marked message is drawn in: it has no scripts of its own. */
export function usePaper(heard: Heard): Paper {
  const [host, setHost] = useState<HTMLDivElement | null>(null)
  const [frame, setFrame] = useState<HTMLIFrameElement | null>(null)
  const [moves, moved] = useReducer((count: number) => count + 1, 0)
  const [hovered, setHovered] = useState<string | null>(null)
  const latest = useLatest(heard)
  const wanted = useRef<string | null>(null)

  const focusBlock = useCallback(
    (key: string | null) => {
      wanted.current = key
      focusIn(host?.querySelector('iframe')?.contentDocument ?? null, key)
    },
    [host],
  )

  const onDrawn = useCallback(
    (drawn: HTMLIFrameElement) => {
      const { contentDocument: document } = drawn
      if (!document) return
      setFrame(drawn)
      for (const element of document.querySelectorAll<HTMLElement>('[class*="of-"], [class*="is-"]')) {
        const key = keyAt(element)
        // Each block is one stop of the keyboard: its band, or in a column what it shows.
        if (key === null || drawnOf(document, key)[0] !== element) continue
        element.tabIndex = 0
        element.setAttribute('role', 'group')
        element.setAttribute('aria-label', latest.current.nameOf(key) ?? 'Block')
        element.style.outlineOffset = '-2px'
      }
      document.addEventListener('mousemove', ({ target }) => setHovered(keyAt(target as Element)))
      document.documentElement.addEventListener('mouseleave', () => setHovered(null))
      document.addEventListener('focusin', ({ target }) => {
        wanted.current = keyAt(target as Element)
      })
      document.addEventListener('click', (event) => {
        event.preventDefault()
        const at = drawn.getBoundingClientRect()
        latest.current.onPress(keyAt(event.target as Element), { x: event.clientX + at.left, y: event.clientY + at.top })
      })
      document.addEventListener('keydown', (event) => {
        const key = keyAt(document.activeElement)
        if (key !== null) latest.current.onKey(key, event)
        // Undo and other keys of the page work here, too: the frame would keep them to itself.
        if (!event.defaultPrevented && (event.ctrlKey || event.metaKey)) passOn(drawn, event)
      })
      document.addEventListener('scroll', moved, { passive: true })
      // Pictures come later, and push what is below them.
      for (const image of document.images) image.addEventListener('load', moved)
      if (wanted.current !== null && window.document.activeElement === drawn) focusIn(document, wanted.current)
      moved()
    },
    [latest],
  ) // prettier-ignore

  useEffect(() => {
    if (!host) return undefined
    const watcher = new ResizeObserver(moved)
    watcher.observe(host)
    return () => watcher.disconnect()
  }, [host])

  const boxOf = (key: string): Box | null => {
    const document = frame?.contentDocument
    if (!frame || !document || !host) return null
    return boxAround(drawnOf(document, key), frame, host)
  }
  return { host, setHost, frame, moves, hovered, onDrawn, boxOf, focusBlock }
}

function passOn(frame: HTMLElement, event: KeyboardEvent): void {
  const { key, code, ctrlKey, metaKey, shiftKey, altKey } = event
  const copy = new KeyboardEvent('keydown', { key, code, ctrlKey, metaKey, shiftKey, altKey, bubbles: true, cancelable: true })
  if (!frame.dispatchEvent(copy)) event.preventDefault()
} // prettier-ignore

function focusIn(document: Document | null, key: string | null): void {
  if (!document || key === null) return
  drawnOf(document, key)[0]?.focus()
}
