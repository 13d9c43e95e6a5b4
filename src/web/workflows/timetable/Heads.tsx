import { memo, useMemo, type ReactNode } from 'react'
import type { Earned } from '../../../contract/workflows.ts'
import type { Row, Timetable as Layout } from '../../../core/timetable/layout.ts'
import { focusInspector } from '../inspector/focus.ts'
import type { Selection } from '../selection.ts'
import { isCounted, type ShownNumbers } from '../numbers/shownNumbers.ts'
import { EarnedNote } from './EarnedNote.tsx'
import { WayFigure } from './FigureNote.tsx'
import { HEAD_HEIGHT, HEAD_WIDTH, ROW_HEIGHT, type Geometry } from './geometry.ts'
import { inkOf } from './ink.ts'
import type { View } from './useView.ts'

interface MomentHeadsProps {
  layout: Layout
  geometry: Geometry
  view: View
  /** What stands in the corner over the row heads. */
  corner: ReactNode
  onSelect: (selection: Selection) => void
  /** When somebody was at a stop, where they live. */
  whenAt?: ((step: string) => string | undefined) | undefined
}

/** The moments over the columns; stays in sight while scrolling down. */
export const MomentHeads = memo(function MomentHeads(props: MomentHeadsProps): ReactNode {
  const { layout, geometry, view, corner, onSelect, whenAt } = props
  const { waits, start } = useMemo(
    () => ({
      waits: waitsByMoment(layout),
      start: layout.items.find(({ kind }) => kind === 'start')?.moment,
    }),
    [layout],
  )
  return (
    <div
      className="sticky top-0 z-20 border-b border-base-300 bg-base-100"
      style={{ height: HEAD_HEIGHT, width: geometry.width, minWidth: '100%' }}
    >
      <div
        className="glance-corner sticky left-0 z-10 flex h-full items-end border-r border-base-300 bg-base-100 px-3 pb-1.5 text-xs text-secondary"
        style={{ width: HEAD_WIDTH }}
      >
        {corner}
      </div>
      {seenColumns(geometry, view).map(({ label, left, width, moment }) => (
        <div
          key={moment}
          className="absolute top-0 glance-figures flex h-full items-end overflow-clip border-l border-dashed border-base-300 px-3 pb-1.5 font-mono text-xs font-medium whitespace-nowrap"
          style={{ left, width }}
        >
          <span className="sticky" style={{ left: HEAD_WIDTH + 12 }}>
            <MomentHead
              label={label}
              waits={waits.get(moment) ?? []}
              isDate={moment === start && label !== 'at once'}
              onSelect={onSelect}
            />
            {whenAt && <MomentOf moment={moment} layout={layout} whenAt={whenAt} />}
          </span>
        </div>
      ))}
    </div>
  )
})

interface MomentOfProps {
  moment: number
  layout: Layout
  whenAt: (step: string) => string | undefined
}

/** When the first stop of a column that was come to was come to. */
function MomentOf({ moment, layout, whenAt }: MomentOfProps): ReactNode {
  const times = layout.items.flatMap((item) =>
    item.moment === moment && item.key !== null ? (whenAt(item.key) ?? []) : [],
  )
  return times[0] === undefined ? null : (
    <span className="block text-[11px] font-normal text-secondary">{times[0]}</span>
  )
}

/** The columns with a head of which some can be seen, with their numbers. */
const seenColumns = ({ columns }: Geometry, { left, right }: View) =>
  columns
    .map((column, moment) => ({ ...column, moment }))
    .filter(
      (column) => column.label !== '' && column.left <= right && column.left + column.width >= left,
    )

/** The waits that lead to each moment: what changes when the moment is changed. */
function waitsByMoment({ items }: Layout): Map<number, string[]> {
  const waits = new Map<number, string[]>()
  for (const { moment, kind, key } of items) {
    if ((kind !== 'wait' && kind !== 'until') || key === null) continue
    waits.set(moment, [...(waits.get(moment) ?? []), key])
  }
  return waits
}

interface MomentHeadProps extends Pick<MomentHeadsProps, 'onSelect'> {
  label: string
  waits: readonly string[]
  /** It is the date that the workflow starts by. */
  isDate: boolean
}

/** The head of a column; where waits or a date lead to it, it is also the place to change them all at once. */
function MomentHead({ label, waits, isDate, onSelect }: MomentHeadProps): ReactNode {
  if (waits.length === 0 && !isDate) return label
  const [only, ...others] = waits
  const select = () => {
    if (isDate) onSelect({ kind: 'trigger' })
    else if (only !== undefined && others.length === 0) onSelect({ kind: 'step', key: only })
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

/** The dashed line at which each moment begins. */
export const MomentLines = memo(function MomentLines({
  geometry,
  view,
}: Pick<MomentHeadsProps, 'geometry' | 'view'>): ReactNode {
  return seenColumns(geometry, view).map(({ moment, left }) => (
    <div
      key={moment}
      aria-hidden="true"
      className="pointer-events-none absolute border-l border-dashed border-base-300"
      style={{ left, top: HEAD_HEIGHT, height: geometry.height - HEAD_HEIGHT }}
    />
  ))
})

interface PathHeadsProps {
  layout: Layout
  numbers: ShownNumbers | undefined
}

/** Who travels on each row, and how many did; stays in sight while scrolling sideways. */
export const PathHeads = memo(function PathHeads({ layout, numbers }: PathHeadsProps): ReactNode {
  return (
    <div
      className="sticky left-0 z-10 border-r border-base-300 bg-base-100"
      style={{ width: HEAD_WIDTH }}
    >
      {layout.rows.map(({ letter, names, way }, index) => (
        <div
          key={letter}
          className="flex items-center gap-2 border-b border-base-300/60 px-3"
          style={{ height: ROW_HEIGHT }}
        >
          <PathLetter letter={letter} row={index} />
          <span className="min-w-0 leading-tight" title={names.join(' · ')}>
            {names.length > 1 && (
              <span className="glance-figures block truncate text-xs text-secondary">
                {aboveOf(names)}
              </span>
            )}
            <span className="glance-name line-clamp-2">
              {names.at(-1) ?? 'Everyone who enters'}
            </span>
            {numbers?.told && way && travelled(way, numbers) > 0 && (
              <span className="glance-figures block font-mono text-[11px] text-primary">taken</span>
            )}
            {numbers && !numbers.told && numbers.total.entered > 0 && isKnown(way, numbers) && (
              <span
                className="glance-figures block truncate font-mono text-[11px] text-secondary"
                title="How many of those who entered came this way"
              >
                {travelled(way, numbers)} of {numbers.total.entered}
              </span>
            )}
            {numbers && (
              <span className="glance-out block font-mono text-[11px] text-secondary">
                <RowFigure way={way} numbers={numbers} />
              </span>
            )}
          </span>
        </div>
      ))}
    </div>
  )
})

const isKnown = (way: Row['way'], numbers: ShownNumbers): boolean =>
  !way || isCounted(numbers, way.branching, way.branch)

/** How many came onto a row; all who entered where nothing branches. */
function travelled(way: Row['way'], { branches, total }: ShownNumbers): number {
  if (!way) return total.entered
  const own = branches.find(({ step, branch }) => step === way.branching && branch === way.branch)
  return own?.taken ?? 0
}

/** What came of those who came onto a row; of all where nothing branches. */
function RowFigure({ way, numbers }: { way: Row['way']; numbers: ShownNumbers }): ReactNode {
  if (way || numbers.measured) {
    return <WayFigure numbers={numbers} step={way?.branching ?? ''} branch={way?.branch ?? null} />
  }
  const sum = (key: keyof Earned) => numbers.earned.steps.reduce((all, one) => all + one[key], 0)
  return <EarnedNote earned={{ orders: sum('orders'), revenueMinor: sum('revenueMinor') }} />
}

/** What leads onto a path before its own name: the nearest says most, the others are in the title. */
const aboveOf = (names: readonly string[]): string =>
  `${names.length > 2 ? '… ' : ''}${names.at(-2) ?? ''}`

/** The letter of a path, in its ink. */
function PathLetter({ letter, row }: { letter: string; row: number }): ReactNode {
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
