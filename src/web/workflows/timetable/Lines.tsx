import { memo, useMemo, type ReactNode } from 'react'
import type { Item, Timetable as Layout } from '../../../core/timetable/layout.ts'
import { lineParts, type Geometry } from './geometry.ts'
import { inkFor, SHARED_INK } from './ink.ts'
import { around, isInView, type View } from './useView.ts'

interface Props {
  layout: Layout
  geometry: Geometry
  view: View
}

/** The lines that lead from one thing to the next, each in the ink of its path. */
export const Lines = memo(function Lines({ layout, geometry, view }: Props): ReactNode {
  const byId = useMemo(() => new Map(layout.items.map((item) => [item.id, item])), [layout])
  return (
    <svg
      className="pointer-events-none absolute top-0 left-0"
      width={geometry.width}
      height={geometry.height}
      aria-hidden="true"
    >
      {layout.links.map(({ from, to }) => {
        const start = byId.get(from)
        const end = byId.get(to)
        if (!start || !end) return null
        if (!isInView(around(geometry.boxOf(start), geometry.boxOf(end)), view)) return null
        return (
          <Line
            key={`${from} ${to}`}
            start={start}
            end={end}
            geometry={geometry}
            ink={inkFor(end.kind === 'join' ? start : end, layout)}
          />
        )
      })}
    </svg>
  )
})

interface LineProps {
  start: Item
  end: Item
  geometry: Geometry
  ink: string
}

function Line({ start, end, geometry, ink }: LineProps): ReactNode {
  const { own, shared } = lineParts(geometry.boxOf(start), geometry.boxOf(end))
  return (
    <g fill="none" strokeWidth={2} strokeLinejoin="round">
      {shared !== null && <path d={shared} stroke={SHARED_INK} />}
      <path d={own} stroke={ink} />
    </g>
  )
}
