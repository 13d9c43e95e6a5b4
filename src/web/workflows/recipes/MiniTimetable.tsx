import type { ReactNode } from 'react'
import type { Item, Timetable } from '../../../core/timetable/layout.ts'
import { inkFor } from '../timetable/ink.ts'
import type { MiniGeometry } from './miniGeometry.ts'
import { shapeOf } from '../stepShapes.ts'

interface Props {
  layout: Timetable
  geometry: MiniGeometry
}

/** A timetable at a glance: its moments and paths, waits and stops; messages without their names. */
export function MiniTimetable({ layout, geometry }: Props): ReactNode {
  const { width, height, moments } = geometry
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      className="max-w-full"
      aria-hidden="true"
    >
      {moments.map(({ label, left }) => (
        <g key={left}>
          <path d={`M${left} 0 V${height}`} stroke="var(--color-base-300)" strokeDasharray="3 2" />
          <text x={left + 4} y={10} className="fill-secondary font-mono text-[9.5px]">
            {label}
          </text>
        </g>
      ))}
      {layout.links.map(({ from, to }) => {
        const [a, b] = [geometry.centreOf(from), geometry.centreOf(to)]
        const turn = Math.max(a.x, geometry.leftOf(to.slot))
        return (
          <path
            key={`${from.id} ${to.id}`}
            d={`M${a.x} ${a.y} H${turn} V${b.y} H${b.x}`}
            fill="none"
            stroke="var(--color-secondary)"
            strokeWidth={1.5}
          />
        )
      })}
      {layout.items.map((item) => (
        <Mark key={item.id} item={item} layout={layout} geometry={geometry} />
      ))}
    </svg>
  )
}

function Mark({ item, layout, geometry }: Props & { item: Item }): ReactNode {
  const { x, y } = geometry.centreOf(item)
  const ink = inkFor(item, layout)
  const hollow = { fill: 'var(--color-base-100)', strokeWidth: 1.5 }
  switch (shapeOf(item.kind)) {
    case 'stop':
      return <rect x={x - 8} y={y - 6} width={16} height={12} rx={2} fill={ink} />
    case 'action':
      return (
        <rect
          x={x - 6}
          y={y - 4}
          width={12}
          height={8}
          stroke={ink}
          strokeDasharray="2.5 1.5"
          {...hollow}
        />
      )
    case 'branch':
      return <PathName {...geometry.nameOf(item)} x={x} y={y} />
    case 'end':
      return <rect x={x - 3} y={y - 3} width={6} height={6} fill="var(--color-secondary)" />
    case 'start':
      return <circle cx={x} cy={y} r={3} stroke="var(--color-secondary)" {...hollow} />
    case 'wait':
    case 'date':
      return <circle cx={x} cy={y} r={5} stroke="var(--color-secondary)" {...hollow} />
    // Lines alone show it.
    case 'branching':
    case 'join':
      return null
  }
}

function PathName(props: { text: string; width: number; x: number; y: number }): ReactNode {
  const { text, width, x, y } = props
  return (
    <>
      <rect
        x={x - width / 2}
        y={y - 8}
        width={width}
        height={16}
        rx={3}
        className="fill-base-200 stroke-base-300"
      />
      <text x={x} y={y + 3.5} textAnchor="middle" className="fill-base-content text-[10px]">
        {text}
      </text>
    </>
  )
}
