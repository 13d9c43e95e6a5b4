import { useCallback, useLayoutEffect, useState, type RefObject } from 'react'
import type { Box } from './geometry.ts'

/** What is drawn beyond the edges, so that scrolling finds it there; and in which steps it follows. */
const MARGIN = 160
const STEP = 80

/** A part of the timetable, in its own pixels. */
export interface View {
  left: number
  top: number
  right: number
  bottom: number
}

const EVERYTHING: View = { left: -Infinity, top: -Infinity, right: Infinity, bottom: Infinity }

/**
 * The part of a scrolled frame that can be seen, and a margin around it. Changes in steps, so that
 * little is drawn anew while scrolling. All there is when `partly` is false.
 */
export function useView(
  frame: RefObject<HTMLDivElement | null>,
  partly: boolean,
  zoom: number,
): View {
  const [view, setView] = useState<View>({ left: 0, top: 0, right: 1800, bottom: 1200 })
  const look = useCallback(() => {
    const element = frame.current
    if (!element) return
    const seen = viewOf(element, zoom)
    setView((before) => (sameView(before, seen) ? before : seen))
  }, [frame, zoom])
  useLayoutEffect(() => {
    const element = frame.current
    if (!partly || !element) return undefined
    // Looks at once, and again whenever the frame gets another size.
    element.addEventListener('scroll', look, { passive: true })
    const sizes = new ResizeObserver(look)
    sizes.observe(element)
    return () => {
      element.removeEventListener('scroll', look)
      sizes.disconnect()
    }
  }, [frame, partly, look])
  return partly ? view : EVERYTHING
}

function viewOf(element: HTMLElement, zoom: number): View {
  const { scrollLeft, scrollTop, clientWidth, clientHeight } = element
  const down = (value: number) => Math.floor((value / zoom - MARGIN) / STEP) * STEP
  const up = (value: number) => Math.ceil((value / zoom + MARGIN) / STEP) * STEP
  return {
    left: down(scrollLeft),
    top: down(scrollTop),
    right: up(scrollLeft + clientWidth),
    bottom: up(scrollTop + clientHeight),
  }
}

const sameView = (a: View, b: View): boolean =>
  a.left === b.left && a.top === b.top && a.right === b.right && a.bottom === b.bottom

/** True when some of a box can be seen. */
export function isInView({ left, top, width, height }: Box, view: View): boolean {
  return (
    left <= view.right &&
    left + width >= view.left &&
    top <= view.bottom &&
    top + height >= view.top
  )
}

/** The box around two boxes: where a line between them may run. */
export function around(a: Box, b: Box): Box {
  const left = Math.min(a.left, b.left)
  const top = Math.min(a.top, b.top)
  const right = Math.max(a.left + a.width, b.left + b.width)
  const bottom = Math.max(a.top + a.height, b.top + b.height)
  return { left, top, width: right - left, height: bottom - top }
}
