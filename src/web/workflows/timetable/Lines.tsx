import { memo, type ReactNode } from 'react'
import type { Timetable as Layout } from '../../../core/timetable/layout.ts'
import { lineParts, type Geometry } from './geometry.ts'
import type { InSight } from './inSight.ts'
import { inkFor, SHARED_INK } from './ink.ts'

interface Props {
  layout: Layout
  geometry: Geometry
  inSight: InSight
}

/** The lines that lead from one thing to the next, each in the ink of its path. */
export const Lines = memo(function Lines({ layout, geometry, inSight }: Props): ReactNode {
  return (
    // Lines run out of it: a picture that grows with the timetable would be laid out and drawn anew.
    <svg
      className="pointer-events-none absolute top-0 left-0 overflow-visible"
      fill="none"
      strokeWidth={2}
      strokeLinejoin="round"
      width={1}
      height={1}
      aria-hidden="true"
    >
      {[...drawn({ layout, geometry, inSight })].map(([ink, lines]) => (
        <path key={ink} d={lines} stroke={ink} />
      ))}
    </svg>
  )
})

/** The lines of each ink, as one: what all paths share first, so that their own lie over it. */
function drawn({ layout, geometry, inSight }: Props): Map<string, string> {
  const byInk = new Map([[SHARED_INK, '']])
  const draw = (ink: string, line: string) => byInk.set(ink, (byInk.get(ink) ?? '') + line)
  for (const { from, to } of layout.links) {
    if (!inSight.line(from, to)) continue
    const { own, shared } = lineParts(geometry.boxOf(from), geometry.boxOf(to))
    if (shared !== null) draw(SHARED_INK, shared)
    draw(inkFor(to.kind === 'join' ? from : to, layout), own)
  }
  return byInk
}
