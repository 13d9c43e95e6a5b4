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
  /** The same of the time before: its outline lies under them. */
  before?: ((link: Link) => number) | undefined
  /** The way of one person, lit. */
  isOnePerson?: boolean
}

/** As wide as all who entered; a row has room for it beside the things that stand on it. */
const WIDEST_PX = 64
/** Where paths part and meet there is no room for more. */
const TURN_PX = 10
/** The way of one person. */
const LIT_PX = 9
/** A single person is still seen. */
const THINNEST_PX = 1.5

/** Lines as wide as people: how many went along each, in the ink of their path. */
export const Bands = memo(function Bands({
  layout,
  geometry,
  peopleOn,
  entered,
  before,
  isOnePerson = false,
}: Props): ReactNode {
  return (
    <>
      {before && (
        <Sheet opacity={0.55}>
          <Drawn
            layout={layout}
            geometry={geometry}
            peopleOn={before}
            entered={entered}
            isOutline
          />
        </Sheet>
      )}
      <Sheet opacity={isOnePerson ? 0.5 : 0.22}>
        <Drawn
          layout={layout}
          geometry={geometry}
          peopleOn={peopleOn}
          entered={isOnePerson ? WIDEST_PX / LIT_PX : entered}
        />
      </Sheet>
    </>
  )
})

function Sheet({ opacity, children }: { opacity: number; children: ReactNode }): ReactNode {
  return (
    <svg
      className="pointer-events-none absolute top-0 left-0 overflow-visible"
      fill="none"
      strokeLinejoin="round"
      width={1}
      height={1}
      aria-hidden="true"
      opacity={opacity}
    >
      {children}
    </svg>
  )
}

interface DrawnProps extends Omit<Props, 'before'> {
  /** Only the edges. */
  isOutline?: boolean
}

/** An edge is this wide. */
const EDGE_PX = 1
/** However many there were before, the rows stay apart. */
const WIDEST_OUTLINE_PX = 88

function Drawn({ layout, geometry, peopleOn, entered, isOutline = false }: DrawnProps): ReactNode {
  const widest = isOutline ? WIDEST_OUTLINE_PX : WIDEST_PX
  return layout.links.map((link) => {
    const people = peopleOn(link)
    if (people === 0 || entered === 0) return null
    const { from, to } = link
    const { own, shared } = lineParts(geometry.boxOf(from), geometry.boxOf(to))
    const width = Math.min(widest, Math.max(THINNEST_PX, (WIDEST_PX * people) / entered))
    const ink = inkFor(to.kind === 'join' ? from : to, layout)
    return (
      <g key={`${from.id} ${to.id}`}>
        {shared !== null && !isOutline && (
          <path d={shared} stroke={SHARED_INK} strokeWidth={Math.min(width, TURN_PX)} />
        )}
        <path
          d={own}
          stroke={ink}
          strokeWidth={width}
          strokeDasharray={isOutline ? '3 2' : undefined}
        />
        {isOutline && width > 2 * EDGE_PX && (
          <path d={own} stroke="var(--color-base-100)" strokeWidth={width - 2 * EDGE_PX} />
        )}
      </g>
    )
  })
}
