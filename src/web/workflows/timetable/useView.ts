import { useCallback, useEffect, useState, type RefObject } from 'react'

/** What is drawn beyond the edges, so that scrolling finds it there; and in which steps it follows. */
const MARGIN = 160
const STEP = 80

/** What the form beside a timetable takes of the width, and more. */
const INSPECTOR = 360

/** A part of the timetable, in its own pixels. */
export interface View {
  left: number
  top: number
  right: number
  bottom: number
  /** How far it reaches at least beyond what can be seen. */
  margin: number
}

const EVERYTHING: View = {
  left: -Infinity,
  top: -Infinity,
  right: Infinity,
  bottom: Infinity,
  margin: 0,
}

/**
 * The part of a scrolled frame that can be seen, and a margin around it. Changes in steps, so that
 * little is drawn anew while scrolling. All there is when `partly` is false.
 */
export function useView(
  frame: RefObject<HTMLDivElement | null>,
  partly: boolean,
  zoom: number,
): View {
  const [view, setView] = useState(firstView)
  const look = useCallback(() => {
    const element = frame.current
    if (!element) return
    const seen = viewOf(element, zoom)
    setView((before) => (sameView(before, seen) ? before : seen))
  }, [frame, zoom])
  useEffect(() => {
    const element = frame.current
    if (!partly || !element) return undefined
    // Looks once it is laid out, and again whenever the frame gets another size.
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

/** What can be seen at most: to ask how large the frame is would lay the page out once more. */
function firstView(): View {
  const { innerWidth, innerHeight } = window
  return { left: 0, top: 0, right: innerWidth - INSPECTOR, bottom: innerHeight, margin: 0 }
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
    margin: MARGIN,
  }
}

const sameView = (a: View, b: View): boolean =>
  a.left === b.left &&
  a.top === b.top &&
  a.right === b.right &&
  a.bottom === b.bottom &&
  a.margin === b.margin
