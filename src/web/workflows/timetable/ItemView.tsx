import { useDraggable } from '@dnd-kit/core'
import { memo, type ReactNode } from 'react'
import type { Item } from '../../../core/timetable/layout.ts'
import type { Change } from '../../../core/words/changes.ts'
import { shortWaitOnDays, STEP_WORDS } from '../../../core/words/steps.ts'
import { isMessage, type Step } from '../../../core/workflow/steps.ts'
import { sameProps } from '../../ui/hooks/sameProps.ts'
import { itemProps } from '../editing/EditingFrame.tsx'
import type { Editing } from '../editing/useEditing.ts'
import { selectionOf, type Selection } from '../selection.ts'
import { isCounted, type ShownNumbers } from '../numbers/shownNumbers.ts'
import { Plus, type Places } from './Plus.tsx'
import { WayFigure } from './FigureNote.tsx'
import type { Box } from './geometry.ts'
import { labelOfStep, StepFace } from './StepFace.tsx'
import { shapeOf, type Shape } from '../stepShapes.ts'

interface ItemProps {
  item: Item
  box: Box
  /** Where steps can be added beside it, and what to do then; none where nothing can be changed. */
  places: Places | undefined
  onInsert: Editing['insert'] | undefined
  ink: string
  /** The step it shows; none for a path, the start and the end of the whole. */
  step: Step | undefined
  /** For a path: how it is called. */
  name: string
  numbers: ShownNumbers | undefined
  selected: boolean
  onSelect: (selection: Selection) => void
  /** Steps can be dragged elsewhere. */
  movable: boolean
  /** What the draft changes about it. */
  mark: Change['kind'] | undefined
}

/**
 * One thing on the timetable, and the places beside it at which steps can be added. Drawn anew only
 * when something about it has changed, for there may be hundreds; and when it only moves, what is in
 * it stays as it is.
 */
export const ItemView = memo(
  function ItemView(props: ItemProps): ReactNode {
    const { item, box, places, onInsert, mark, ...looks } = props
    const { left, top, width, height } = box
    const { id, kind, key, branching } = item
    const own = selectionOf(item)
    const called = labelOf(item, looks.step, looks.name)
    const plus = (side: 'before' | 'after') => {
      const beside = places?.[side]
      if (!beside || !onInsert) return null
      return (
        <Plus
          {...beside}
          {...{ side, width, height, onInsert }}
          name={besideName(item, looks.step, looks.name)}
        />
      )
    }
    return (
      <div className="absolute" style={{ left, top, width, height }}>
        {plus('before')}
        {own ? (
          <ItemButton {...looks} {...{ id, kind, branch: key, branching, own, called, mark }} />
        ) : (
          <Mark kind={kind} />
        )}
        {plus('after')}
        {mark && <ChangeMark kind={mark} />}
      </div>
    )
  },
  sameProps<ItemProps>('item', 'box', 'places'),
)

interface ButtonProps
  extends
    Pick<
      ItemProps,
      'ink' | 'step' | 'name' | 'numbers' | 'selected' | 'onSelect' | 'movable' | 'mark'
    >,
    Pick<Item, 'id' | 'kind' | 'branching'> {
  /** The key of the step, or of the path. */
  branch: string | null
  own: Selection
  /** How it is called, for those who do not see it. */
  called: string
}

const ItemButton = memo(function ItemButton(props: ButtonProps): ReactNode {
  const {
    id,
    kind,
    branch,
    branching,
    own,
    called,
    ink,
    step,
    name,
    numbers,
    selected,
    onSelect,
    movable,
    mark,
  } = props
  const { setNodeRef, listeners, isDragging } = useDragged({ id, key: branch, kind }, movable)
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...itemProps(id, own)}
      {...listeners}
      aria-label={`${called}${mark ? `, ${MARKS[mark]}` : ''}`}
      aria-pressed={selected}
      onClick={() => onSelect(own)}
      className={`absolute inset-0 text-left ${FRAMES[shapeOf(kind)]} ${selected ? 'outline-2 outline-offset-1 outline-accent' : ''} ${isDragging ? 'opacity-40' : ''}`}
      style={step && isMessage(step) ? { borderTopColor: ink } : undefined}
    >
      {kind === 'branch' && (
        <BranchFace branching={branching} branch={branch} name={name} numbers={numbers} />
      )}
      {kind !== 'branch' && step && <StepFace step={step} numbers={numbers} />}
    </button>
  )
}, sameProps<ButtonProps>('own'))

const MARKS: Readonly<Record<Change['kind'], string>> = {
  added: 'new',
  changed: 'changed',
  moved: 'moved',
  removed: 'gone',
}

function ChangeMark({ kind }: { kind: Change['kind'] }): ReactNode {
  return (
    <span
      aria-hidden="true"
      className="pointer-events-none absolute -top-2 left-1 rounded-sm bg-warning px-1 font-mono text-[10px] leading-tight text-base-100"
    >
      {MARKS[kind]}
    </span>
  )
}

/** Lets a step be dragged; paths, joins and ends stay where they are. */
function useDragged({ id, key, kind }: Pick<Item, 'id' | 'key' | 'kind'>, movable: boolean) {
  const isStep = key !== null && kind !== 'branch' && kind !== 'join'
  return useDraggable({ id: isStep ? key : id, disabled: !movable || !isStep })
}

const PILL =
  'glance-tight rounded-full border border-base-300 bg-base-200 px-2 text-xs flex items-center justify-center gap-1'

const FRAMES: Readonly<Record<Shape, string>> = {
  start: 'rounded-full border-2 border-secondary bg-base-100',
  wait: PILL,
  date: PILL,
  stop: 'rounded-box border border-base-300 border-t-[3px] bg-base-100 px-2.5 py-1 overflow-hidden',
  action:
    'glance-tight rounded-field border border-dashed border-secondary bg-base-100 px-2 py-1 overflow-hidden',
  branching: 'rounded-field border border-secondary bg-base-100 grid place-items-center',
  branch:
    'glance-tight rounded-field border border-base-300 bg-base-200 px-2 py-1 text-xs overflow-hidden',
  join: '',
  end: 'rounded-sm bg-secondary',
}

/** What is only drawn: where paths meet, and where one ends of itself. */
function Mark({ kind }: Pick<Item, 'kind'>): ReactNode {
  if (kind === 'join') {
    return (
      <span
        aria-hidden="true"
        className="absolute inset-0 rounded-full border-2 border-secondary bg-base-100"
      />
    )
  }
  return <span className="absolute inset-0 rounded-sm bg-secondary" title="This path ends here" />
}

interface BranchProps extends Pick<ItemProps, 'name' | 'numbers'> {
  branching: string | null
  branch: string | null
}

const BranchFace = memo(function BranchFace(props: BranchProps): ReactNode {
  const { branching, branch, name, numbers } = props
  const isMine = (one: { step: string; branch: string | null }) =>
    one.step === branching && one.branch === branch
  const isKnown = numbers && branching !== null && isCounted(numbers, branching, branch)
  const own = isKnown && !numbers.told ? numbers.branches.find(isMine) : undefined
  return (
    <>
      <span className="glance-name line-clamp-2 leading-tight font-medium">{name}</span>
      {own && (
        <span className="glance-out truncate font-mono text-[10.5px] text-secondary">
          {own.taken}
          <WayFigure numbers={numbers} step={branching} branch={branch} lead=" " isNarrow />
        </span>
      )}
    </>
  )
})

function labelOf({ kind }: Item, step: Step | undefined, name: string): string {
  if (kind === 'start') return 'Start'
  if (kind === 'branch') return `Path: ${name}`
  return step ? labelOfStep(step) : 'End'
}

/** What a place is said to be before or after: "“Thanks”", "the wait of 7 d". */
function besideName({ kind }: Item, step: Step | undefined, name: string): string {
  if (kind === 'start') return 'the start'
  if (kind === 'join') return 'where paths meet'
  if (kind === 'branch') return `“${name}”`
  if (!step) return 'the end'
  if ('name' in step && step.name !== '') return `“${step.name}”`
  return step.kind === 'wait' ? `the wait of ${shortWaitOnDays(step)}` : STEP_WORDS[step.kind]
}
