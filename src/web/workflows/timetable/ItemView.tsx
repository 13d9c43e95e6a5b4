import { useDraggable } from '@dnd-kit/core'
import { memo, type ReactNode } from 'react'
import type { Item } from '../../../core/timetable/layout.ts'
import type { Change } from '../../../core/words/changes.ts'
import { isMessage, type Step } from '../../../core/workflow/steps.ts'
import { sameProps } from '../../ui/sameProps.ts'
import { itemProps } from '../editing/EditingFrame.tsx'
import { selectionOf, type Selection } from '../selection.ts'
import type { ShownNumbers } from '../shownNumbers.ts'
import { EarnedNote } from './EarnedNote.tsx'
import type { Box } from './geometry.ts'
import { labelOfStep, StepFace } from './StepFace.tsx'

interface ItemProps {
  item: Item
  box: Box
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
 * One thing on the timetable: a button if it can be looked into, else only a mark. Drawn anew only
 * when something about it has changed, for there may be hundreds.
 */
export const ItemView = memo(
  function ItemView(props: ItemProps): ReactNode {
    const { item, box, ink, step, name, numbers, selected, onSelect, movable, mark } = props
    const { setNodeRef, listeners, isDragging } = useDragged(item, movable)
    const own = selectionOf(item)
    const style = {
      left: box.left,
      top: box.top,
      width: box.width,
      height: box.height,
      ...(step && isMessage(step) ? { borderTopColor: ink } : {}),
    }
    if (!own) return <Mark item={item} style={style} />
    return (
      <>
        <button
          ref={setNodeRef}
          type="button"
          {...itemProps(item.id, own)}
          {...listeners}
          aria-label={`${labelOf(item, step, name)}${mark ? `, ${MARKS[mark]}` : ''}`}
          aria-pressed={selected}
          onClick={() => onSelect(own)}
          className={`absolute text-left ${FRAMES[item.kind]} ${selected ? 'outline-2 outline-offset-1 outline-accent' : ''} ${isDragging ? 'opacity-40' : ''}`}
          style={style}
        >
          {item.kind === 'branch' && (
            <BranchFace fork={item.fork} branch={item.key} name={name} numbers={numbers} />
          )}
          {item.kind !== 'branch' && step && <StepFace step={step} numbers={numbers} />}
        </button>
        {mark && <ChangeMark kind={mark} box={box} />}
      </>
    )
  },
  sameProps<ItemProps>('item', 'box'),
)

const MARKS: Readonly<Record<Change['kind'], string>> = {
  added: 'new',
  changed: 'changed',
  moved: 'moved',
  removed: 'gone',
}

function ChangeMark({ kind, box }: { kind: Change['kind']; box: Box }): ReactNode {
  return (
    <span
      aria-hidden="true"
      style={{ left: box.left + 4, top: box.top - 8 }}
      className="pointer-events-none absolute rounded-sm bg-warning px-1 font-mono text-[10px] leading-tight text-base-100"
    >
      {MARKS[kind]}
    </span>
  )
}

/** Lets a step be dragged; paths, joins and ends stay where they are. */
function useDragged({ id, key, kind }: Item, movable: boolean) {
  const isStep = key !== null && kind !== 'branch' && kind !== 'join'
  return useDraggable({ id: isStep ? key : id, disabled: !movable || !isStep })
}

const PILL =
  'glance-tight rounded-full border border-base-300 bg-base-200 px-2 text-xs flex items-center justify-center gap-1'
const STOP =
  'rounded-box border border-base-300 border-t-[3px] bg-base-100 px-2.5 py-1 overflow-hidden'
const ACTION =
  'glance-tight rounded-field border border-dashed border-secondary bg-base-100 px-2 py-1 overflow-hidden'
const FORK = 'rounded-field border border-secondary bg-base-100 grid place-items-center'

const FRAMES: Readonly<Record<Item['kind'], string>> = {
  start: 'rounded-full border-2 border-secondary bg-base-100',
  wait: PILL,
  until: PILL,
  email: STOP,
  sms: STOP,
  note: STOP,
  coupon: ACTION,
  tag: ACTION,
  list: ACTION,
  property: ACTION,
  hook: ACTION,
  split: FORK,
  experiment: FORK,
  waitFor: FORK,
  branch:
    'glance-tight rounded-field border border-base-300 bg-base-200 px-2 py-1 text-xs overflow-hidden',
  join: '',
  end: 'rounded-sm bg-secondary',
}

function Mark({ item, style }: { item: Item; style: object }): ReactNode {
  if (item.kind === 'join') {
    return (
      <span
        aria-hidden="true"
        className="absolute rounded-full border-2 border-secondary bg-base-100"
        style={style}
      />
    )
  }
  return (
    <span className="absolute grid place-items-center" style={style} title="The way ends here">
      <span className="h-full w-full rounded-sm bg-secondary" />
    </span>
  )
}

interface BranchProps extends Pick<ItemProps, 'name' | 'numbers'> {
  fork: string | null
  branch: string | null
}

const BranchFace = memo(function BranchFace(props: BranchProps): ReactNode {
  const { fork, branch, name, numbers } = props
  const isMine = (one: { step: string; branch: string | null }) =>
    one.step === fork && one.branch === branch
  const own = numbers?.branches.find(isMine)
  return (
    <>
      <span className="glance-name line-clamp-2 leading-tight font-medium">{name}</span>
      {own && (
        <span className="glance-out font-mono text-[11px] text-secondary">
          {own.taken}
          <EarnedNote earned={numbers?.earned.branches.find(isMine)} lead=" · " />
        </span>
      )}
    </>
  )
})

function labelOf(item: Item, step: Step | undefined, name: string): string {
  if (item.kind === 'start') return 'Start'
  if (item.kind === 'branch') return `Path: ${name}`
  return step ? labelOfStep(step) : 'End'
}
