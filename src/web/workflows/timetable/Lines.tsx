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
      width={1}
      height={1}
      aria-hidden="true"
    >
      {layout.links.map(({ from, to }) => {
        if (!inSight.line(from, to)) return null
        const { own, shared } = lineParts(geometry.boxOf(from), geometry.boxOf(to))
        const ink = inkFor(to.kind === 'join' ? from : to, layout)
        return <Line key={`${from.id} ${to.id}`} own={own} shared={shared} ink={ink} />
      })}
    </svg>
  )
})

interface LineProps {
  own: string
  shared: string | null
  ink: string
}

const Line = memo(function Line({ own, shared, ink }: LineProps): ReactNode {
  return (
    <g fill="none" strokeWidth={2} strokeLinejoin="round">
      {shared !== null && <path d={shared} stroke={SHARED_INK} />}
      <path d={own} stroke={ink} />
    </g>
  )
})
