import { useEffect, useMemo, useRef, type ReactNode } from 'react'
import type { WorkflowNumbersResponse } from '../../../contract/workflows.ts'
import {
  layoutTimetable,
  type Item,
  type Timetable as Layout,
} from '../../../core/timetable/layout.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { EditingFrame } from '../editing/EditingFrame.tsx'
import type { Editing } from '../editing/useEditing.ts'
import { isSelected, selectionOf, type Selection } from '../selection.ts'
import { focusInspector } from '../inspector/focus.ts'
import type { Marks } from '../versions/useChanges.ts'
import { DragSteps } from './DragSteps.tsx'
import {
  geometryOf,
  HEAD_HEIGHT,
  HEAD_WIDTH,
  lineParts,
  neighbour,
  ROW_HEIGHT,
  type Geometry,
} from './geometry.ts'
import { inkOf } from './ink.ts'
import { InsertPoints } from './InsertPoints.tsx'
import { ItemView } from './ItemView.tsx'

interface TimetableProps {
  definition: Definition
  numbers: WorkflowNumbersResponse | undefined
  selection: Selection
  onSelect: (selection: Selection) => void
  /** Missing when the definition is only to be read. */
  editing: Editing | undefined
  /** What the draft changes of what is live. */
  marks: Marks
}

/** Rows are paths, columns are moments, stops are what people get. */
export function Timetable(props: TimetableProps): ReactNode {
  const { definition, numbers, selection, onSelect, editing, marks } = props
  const layout = useMemo(() => layoutTimetable(definition), [definition])
  const geometry = useMemo(() => geometryOf(layout), [layout])
  const frame = useRef<HTMLDivElement>(null)
  useEffect(() => {
    // In a tall workflow the start stands far down: begin where the way begins.
    frame.current?.querySelector('[data-item="start"]')?.scrollIntoView({ block: 'center' })
  }, [])

  return (
    <EditingFrame
      label="Timetable"
      frame={frame}
      className="panel relative min-h-0 flex-1 overflow-auto"
      editing={editing}
      neighbour={(id, arrow) => neighbour(layout, id, arrow)?.id ?? null}
    >
      <DragSteps definition={definition} editing={editing}>
        <div
          className="relative"
          style={{ width: geometry.width, minWidth: '100%', height: geometry.height }}
        >
          <ColumnLines geometry={geometry} />
          <Lines layout={layout} geometry={geometry} />
          <Columns layout={layout} geometry={geometry} onSelect={onSelect} />
          <Rows layout={layout} />
          {layout.items.map((item) => {
            const own = selectionOf(item)
            return (
              <ItemView
                key={item.id}
                item={item}
                box={geometry.boxOf(item)}
                ink={inkFor(item, layout)}
                definition={definition}
                numbers={numbers}
                selected={isSelected(item, selection)}
                onSelect={own ? () => onSelect(own) : undefined}
                movable={editing !== undefined}
                mark={own ? marks(own) : undefined}
              />
            )
          })}
          {editing && (
            <InsertPoints layout={layout} geometry={geometry} onInsert={editing.insert} />
          )}
        </div>
      </DragSteps>
    </EditingFrame>
  )
}

interface ColumnsProps {
  layout: Layout
  geometry: Geometry
  onSelect: (selection: Selection) => void
}

function Columns({ layout, geometry, onSelect }: ColumnsProps): ReactNode {
  return (
    <div
      className="sticky top-0 z-20 border-b border-base-300 bg-base-100"
      style={{ height: HEAD_HEIGHT, width: geometry.width, minWidth: '100%' }}
    >
      <div
        className="sticky left-0 z-10 flex h-full items-end border-r border-base-300 bg-base-100 px-3 pb-1.5 text-xs text-secondary"
        style={{ width: HEAD_WIDTH }}
      >
        who
      </div>
      {geometry.columns.map(({ label, left, width }, moment) => (
        <div
          key={label}
          className="absolute top-0 flex h-full items-end border-l border-dashed border-base-300 px-3 pb-1.5 font-mono text-xs font-medium whitespace-nowrap"
          style={{ left, width }}
        >
          <span className="sticky" style={{ left: HEAD_WIDTH + 12 }}>
            <MomentHead label={label} waits={waitsInto(layout, moment)} onSelect={onSelect} />
          </span>
        </div>
      ))}
    </div>
  )
}

/** The waits that lead to a moment: what changes when the moment is changed. */
const waitsInto = (layout: Layout, moment: number): string[] =>
  layout.items.flatMap((item) =>
    item.moment === moment && (item.kind === 'wait' || item.kind === 'until') && item.key !== null
      ? [item.key]
      : [],
  )

interface MomentHeadProps extends Pick<ColumnsProps, 'onSelect'> {
  label: string
  waits: readonly string[]
}

/** The head of a column; where waits lead to it, it is also the place to change them all at once. */
function MomentHead({ label, waits, onSelect }: MomentHeadProps): ReactNode {
  if (waits.length === 0) return label
  const [only, ...others] = waits
  const select = () => {
    if (only !== undefined && others.length === 0) onSelect({ kind: 'step', key: only })
    else onSelect({ kind: 'moment', waits: [...waits] })
    focusInspector()
  }
  return (
    <button
      type="button"
      className="hover:underline"
      title="Change this moment"
      aria-label={`Change the moment ${label}`}
      onClick={select}
    >
      {label}
    </button>
  )
}

function ColumnLines({ geometry }: { geometry: Geometry }): ReactNode {
  return geometry.columns.map(({ label, left }) => (
    <div
      key={label}
      aria-hidden="true"
      className="pointer-events-none absolute border-l border-dashed border-base-300"
      style={{ left, top: HEAD_HEIGHT, height: geometry.height - HEAD_HEIGHT }}
    />
  ))
}

function Rows({ layout }: { layout: Layout }): ReactNode {
  return (
    <div
      className="sticky left-0 z-10 border-r border-base-300 bg-base-100"
      style={{ width: HEAD_WIDTH }}
    >
      {layout.rows.map(({ letter, names }, index) => (
        <div
          key={letter}
          className="flex items-center gap-2 border-b border-base-300/60 px-3"
          style={{ height: ROW_HEIGHT }}
        >
          <PathLetter letter={letter} row={index} />
          <span className="min-w-0 leading-tight" title={names.join(' · ')}>
            {names.length > 1 && (
              <span className="block truncate text-xs text-secondary">
                {names.slice(0, -1).join(' · ')}
              </span>
            )}
            <span className="line-clamp-3">{names.at(-1) ?? 'Everyone who enters'}</span>
          </span>
        </div>
      ))}
    </div>
  )
}

export function PathLetter({ letter, row }: { letter: string; row: number }): ReactNode {
  return (
    <span
      aria-hidden="true"
      className="grid h-5 min-w-5 shrink-0 place-items-center rounded-sm px-1 font-mono text-xs font-medium text-base-100"
      style={{ background: inkOf(row) }}
    >
      {letter}
    </span>
  )
}

const SHARED_INK = 'var(--color-secondary)'

/** The ink of what belongs to one path; what several share has none of theirs. */
function inkFor(item: Item, layout: Layout): string {
  const alone = item.rowTo - item.rowFrom === 1 && layout.rows.length > 1
  return alone ? inkOf(item.rowFrom) : SHARED_INK
}

function Lines({ layout, geometry }: { layout: Layout; geometry: Geometry }): ReactNode {
  const byId = new Map(layout.items.map((item) => [item.id, item]))
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
        const ink = inkFor(end.kind === 'join' ? start : end, layout)
        const { own, shared } = lineParts(geometry.boxOf(start), geometry.boxOf(end))
        return (
          <g key={`${from} ${to}`} fill="none" strokeWidth={2} strokeLinejoin="round">
            {shared !== null && <path d={shared} stroke={SHARED_INK} />}
            <path d={own} stroke={ink} />
          </g>
        )
      })}
    </svg>
  )
}
