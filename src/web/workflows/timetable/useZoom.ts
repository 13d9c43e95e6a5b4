import { useLayoutEffect, useState, type RefObject } from 'react'
import type { Geometry } from './geometry.ts'

/** Smaller than this not even the shape can be told; the rest is scrolled. */
const SMALLEST = 0.25

/** How much smaller a timetable is drawn: 1, or as small as it must be to fit into its frame. */
export function useZoom(
  frame: RefObject<HTMLDivElement | null>,
  { width, height }: Geometry,
  whole: boolean,
): number {
  const [size, setSize] = useState<{ width: number; height: number } | null>(null)
  useLayoutEffect(() => {
    const element = frame.current
    if (!whole || !element) return undefined
    // The frame's own size, scrollbars left out: what fits needs none.
    const look = () => setSize({ width: element.offsetWidth - 2, height: element.offsetHeight - 2 })
    const sizes = new ResizeObserver(look)
    sizes.observe(element)
    look()
    return () => sizes.disconnect()
  }, [frame, whole])
  if (!whole || !size) return 1
  return Math.max(SMALLEST, Math.min(1, size.width / width, size.height / height))
}
