import {
  createContext,
  memo,
  useCallback,
  useContext,
  useLayoutEffect,
  useRef,
  useState,
  type ReactNode,
  type RefObject,
} from 'react'
import { flushSync } from 'react-dom'
import { peopleOn } from '../../../core/timetable/flow.ts'
import type { Timetable as Layout } from '../../../core/timetable/layout.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { allSteps } from '../../../core/workflow/lists.ts'
import { useLatest } from '../../ui/hooks/useLatest.ts'
import { EditingFrame } from '../editing/EditingFrame.tsx'
import type { Editing } from '../editing/useEditing.ts'
import type { Selection } from '../selection.ts'
import type { ShownNumbers } from '../numbers/shownNumbers.ts'
import type { Marks } from '../versions/useChanges.ts'
import { Bands } from './Bands.tsx'
import { DragSteps } from './DragSteps.tsx'
import { FirstSteps } from './FirstSteps.tsx'
import { neighbour, type Geometry } from './geometry.ts'
import { MomentHeads, MomentLines, PathHeads } from './Heads.tsx'
import type { InSight } from './inSight.ts'
import { Items } from './Items.tsx'
import { Lines } from './Lines.tsx'
import { labelOfStep } from './StepFace.tsx'
import { useInSight } from './useInSight.ts'
import { useLayout } from './useLayout.ts'
import { useView, type View } from './useView.ts'
import { useZoom } from './useZoom.ts'

/** From how many things on only those are drawn that can be seen. */
const MANY = 150

interface TimetableProps {
  definition: Definition
  numbers: ShownNumbers | undefined
  /** What stands in the corner over the row heads. */
  corner: ReactNode
  selection: Selection
  onSelect: (selection: Selection) => void
  /** Missing when the definition is only to be read. */
  editing: Editing | undefined
  /** What the draft changes of what is live. */
  marks: Marks
  /** Made as small as it must be to be seen as a whole. */
  whole: boolean
  /** Lines are as wide as the people of `numbers`, and as those of the time before are their outlines. */
  bands?: boolean | undefined
  bandsBefore?: ShownNumbers | undefined
  label?: string | undefined
}

/** Rows are paths, columns are moments, stops are what people get. */
export const Timetable = memo(function Timetable(props: TimetableProps): ReactNode {
  const { definition, editing, whole, label = 'Timetable' } = props
  const { layout, geometry } = useLayout(definition)
  const frame = useRef<HTMLDivElement>(null)
  const zoom = useZoom(frame, geometry, whole)
  const many = layout.items.length > MANY
  const view = useView(frame, many, zoom)
  const inSight = useInSight(layout, geometry, view)
  // What has the keyboard or the pointer stays, wherever it is scrolled to.
  const [held, setHeld] = useState<readonly string[]>([])
  const hold = useCallback(
    (id: string) => setHeld((before) => (before.length === 1 && before[0] === id ? before : [id])),
    [],
  )
  useStartInSight(frame, layout, geometry)
  const next = useCallback(
    (id: string, arrow: string) => {
      const to = neighbour(layout, id, arrow)?.id ?? null
      // It may be out of sight, and not drawn yet; what has the focus stays until it has moved.
      if (to !== null && many) flushSync(() => setHeld([id, to]))
      return to
    },
    [layout, many],
  )

  const latest = useLatest(definition)
  const nameOf = useCallback(
    (key: string) => {
      const step = allSteps(latest.current.steps).find((one) => one.key === key)
      return step ? labelOfStep(step) : ''
    },
    [latest],
  )

  const before = useCallback(
    (id: string) => neighbour(layout, id, 'ArrowLeft')?.id ?? null,
    [layout],
  )

  const drawn = { ...props, layout, geometry, view, inSight, zoom, held }
  return (
    <EditingFrame
      label={label}
      frame={frame}
      className="panel relative min-h-0 flex-1 overflow-auto"
      editing={editing}
      neighbour={next}
      before={before}
      onHold={many ? hold : undefined}
    >
      <Drawn value={drawn}>
        <DragSteps onMove={editing?.move} nameOf={nameOf}>
          {SHEET}
        </DragSteps>
      </Drawn>
    </EditingFrame>
  )
})

/** Drawn smaller than this, names take the place of details, in letters that can still be read. */
const SMALL = 0.8
/** How large letters are to be seen, and how large they are made at most, in pixels. */
const READ = 10.5
const LARGEST = 22

interface DrawnProps extends TimetableProps {
  layout: Layout
  geometry: Geometry
  view: View
  inSight: InSight
  zoom: number
  held: readonly string[]
}

/**
 * What is drawn, handed down past what lets it be dragged: that is large, and stays as it is while the
 * draft changes.
 */
const Drawn = createContext<DrawnProps | null>(null)
const SHEET = <Sheet />

/** Everything on the timetable, the heads included. */
function Sheet(): ReactNode {
  const drawn = useContext(Drawn)
  if (!drawn) return null
  const {
    definition,
    numbers,
    corner,
    selection,
    onSelect,
    editing,
    marks,
    whole,
    bands,
    bandsBefore,
  } = drawn
  const { layout, geometry, view, inSight, zoom, held } = drawn
  // At a glance a "+" would be too small to be hit.
  const onInsert = whole ? undefined : editing?.insert
  return (
    <div
      className={zoom < SMALL ? 'glance relative' : 'relative'}
      style={{
        width: geometry.width,
        minWidth: '100%',
        height: geometry.height,
        zoom,
        ...(zoom < SMALL ? { '--glance-size': `${Math.min(LARGEST, READ / zoom)}px` } : {}),
      }}
    >
      <MomentLines geometry={geometry} view={view} />
      {bands && numbers && (
        <Bands
          layout={layout}
          geometry={geometry}
          peopleOn={peopleIn(definition, numbers)}
          before={bandsBefore && peopleIn(definition, bandsBefore)}
          isOnePerson={numbers.told !== undefined}
          entered={numbers.total.entered}
        />
      )}
      <Lines layout={layout} geometry={geometry} inSight={inSight} />
      <MomentHeads
        layout={layout}
        geometry={geometry}
        view={view}
        corner={corner}
        onSelect={onSelect}
        whenAt={numbers?.told?.whenAt}
      />
      <PathHeads layout={layout} numbers={numbers} />
      <Items
        layout={layout}
        geometry={geometry}
        inSight={inSight}
        steps={definition.steps}
        numbers={numbers}
        selection={selection}
        onSelect={onSelect}
        held={held}
        movable={editing !== undefined}
        marks={marks}
        onInsert={onInsert}
      />
      {onInsert && definition.steps.length === 0 && <FirstSteps onInsert={onInsert} />}
    </div>
  )
}

const peopleIn = (definition: Definition, { total, steps, branches }: ShownNumbers) =>
  peopleOn(definition, { entered: total.entered, steps, branches })

/** In a tall workflow the start stands far down: begins where the way begins. */
function useStartInSight(
  frame: RefObject<HTMLDivElement | null>,
  { items }: Layout,
  { boxOf }: Geometry,
): void {
  const start = items.find(({ kind }) => kind === 'start')
  const middle = start ? boxOf(start).top : 0
  useLayoutEffect(() => {
    const element = frame.current
    // To scroll lays everything out once more; mostly the start is in sight as it is.
    if (!element || middle < window.innerHeight / 4) return
    element.scrollTop = middle - element.clientHeight / 2
    // Once: from then on it is scrolled by hand.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [])
}
