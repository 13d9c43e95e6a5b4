import { memo, type ReactNode } from 'react'
import type { Link, Timetable as Layout } from '../../../core/timetable/layout.ts'
import { lineParts, type Geometry } from './geometry.ts'
import { inkFor, SHARED_INK } from './ink.ts'

interface Props {
  layout: Layout
  geometry: Geometry
  /** How many people went along a line. */
  peopleOn: (link: Link) => number
  entered: number
}

/** As wide as all who entered; a row has room for it beside the things that stand on it. */
const WIDEST_PX = 64
/** Where paths part and meet there is no room for more. */
const TURN_PX = 10
/** A single person is still seen. */
const THINNEST_PX = 1.5

/** Lines as wide as people: how many went along each, in the ink of their path. */
export const Bands = memo(function Bands({
  layout,
  geometry,
  peopleOn,
  entered,
}: Props): ReactNode {
  return (
    <svg
      className="pointer-events-none absolute top-0 left-0 overflow-visible"
      fill="none"
      strokeLinejoin="round"
      width={1}
      height={1}
      aria-hidden="true"
      opacity={0.22}
    >
      {layout.links.map((link) => {
        const people = peopleOn(link)
        if (people === 0 || entered === 0) return null
        const { from, to } = link
        const { own, shared } = lineParts(geometry.boxOf(from), geometry.boxOf(to))
        const width = Math.max(THINNEST_PX, (WIDEST_PX * people) / entered)
        return (
          <g key={`${from.id} ${to.id}`}>
            {shared !== null && (
              <path d={shared} stroke={SHARED_INK} strokeWidth={Math.min(width, TURN_PX)} />
            )}
            <path
              d={own}
              stroke={inkFor(to.kind === 'join' ? from : to, layout)}
              strokeWidth={width}
            />
          </g>
        )
      })}
    </svg>
  )
})
