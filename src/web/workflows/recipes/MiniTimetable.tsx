import { useMemo, type ReactNode } from 'react'
import { layoutTimetable, type Item, type Timetable } from '../../../core/timetable/layout.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { inkFor } from '../timetable/ink.ts'

const SLOT = 22
const ROW = 22
const EDGE = 8

/** A timetable at a glance: its lines, waits and stops, without words. */
export function MiniTimetable({ definition }: { definition: Definition }): ReactNode {
  const layout = useMemo(() => layoutTimetable(definition), [definition])
  const width = layout.slots.length * SLOT + 2 * EDGE
  const height = layout.rows.length * ROW + 2 * EDGE
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      className="max-w-full"
      aria-hidden="true"
    >
      {layout.links.map(({ from, to }) => {
        const [a, b] = [centre(from), centre(to)]
        return (
          <path
            key={`${from.id} ${to.id}`}
            d={`M${a.x} ${a.y} L${Math.max(a.x, b.x - SLOT / 2)} ${a.y} L${Math.max(a.x, b.x - SLOT / 2)} ${b.y} L${b.x} ${b.y}`}
            fill="none"
            stroke="var(--color-secondary)"
            strokeWidth={1.5}
          />
        )
      })}
      {layout.items.map((item) => (
        <Mark key={item.id} item={item} layout={layout} />
      ))}
    </svg>
  )
}

const centre = ({ slot, rowFrom, rowTo }: Item) => ({
  x: EDGE + (slot + 0.5) * SLOT,
  y: EDGE + ((rowFrom + rowTo) / 2) * ROW,
})

type Shape = 'message' | 'action' | 'end' | 'start' | 'wait'

const SHAPES: Partial<Record<Item['kind'], Shape>> = {
  email: 'message',
  sms: 'message',
  note: 'message',
  coupon: 'action',
  tag: 'action',
  list: 'action',
  property: 'action',
  hook: 'action',
  end: 'end',
  start: 'start',
  wait: 'wait',
  until: 'wait',
}

function Mark({ item, layout }: { item: Item; layout: Timetable }): ReactNode {
  const { x, y } = centre(item)
  const ink = inkFor(item, layout)
  const hollow = { fill: 'var(--color-base-100)', strokeWidth: 1.5 }
  switch (SHAPES[item.kind]) {
    case 'message':
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
    case 'end':
      return <rect x={x - 3} y={y - 3} width={6} height={6} fill="var(--color-secondary)" />
    case 'start':
      return <circle cx={x} cy={y} r={3} stroke="var(--color-secondary)" {...hollow} />
    case 'wait':
      return <circle cx={x} cy={y} r={5} stroke="var(--color-secondary)" {...hollow} />
    default:
      return null
  }
}
