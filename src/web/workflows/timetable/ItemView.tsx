import { Mail, Split, Timer } from 'lucide-react'
import type { ReactNode } from 'react'
import type { WorkflowNumbersResponse } from '../../../contract/workflows.ts'
import type { Item } from '../../../core/timetable/layout.ts'
import { readableTemplate } from '../../../core/messages/mergeFields.ts'
import { shortDuration } from '../../../core/words/quantities.ts'
import {
  allSteps,
  type Definition,
  type EmailStep,
  type Step,
  type WaitStep,
} from '../../../core/workflow/definition.ts'
import type { Box } from './geometry.ts'

interface ItemProps {
  item: Item
  box: Box
  ink: string
  definition: Definition
  numbers: WorkflowNumbersResponse | undefined
  selected: boolean
  onSelect: (() => void) | undefined
}

/** One thing on the timetable: a button if it can be looked into, else only a mark. */
export function ItemView({
  item,
  box,
  ink,
  definition,
  numbers,
  selected,
  onSelect,
}: ItemProps): ReactNode {
  const step = allSteps(definition.steps).find(({ key }) => key === item.key)
  const style = {
    left: box.left,
    top: box.top,
    width: box.width,
    height: box.height,
    ...(item.kind === 'email' ? { borderTopColor: ink } : {}),
  }
  if (!onSelect) return <Mark item={item} style={style} />
  return (
    <button
      type="button"
      data-item={item.id}
      aria-label={labelOf(item, step, definition)}
      aria-pressed={selected}
      onClick={onSelect}
      className={`absolute text-left ${FRAMES[item.kind]} ${selected ? 'outline-2 outline-offset-1 outline-accent' : ''}`}
      style={style}
    >
      <Face item={item} step={step} definition={definition} numbers={numbers} />
    </button>
  )
}

const FRAMES: Readonly<Record<Item['kind'], string>> = {
  start: 'rounded-full border-2 border-secondary bg-base-100',
  wait: 'rounded-full border border-base-300 bg-base-200 px-2 text-xs flex items-center justify-center gap-1',
  email:
    'rounded-box border border-base-300 border-t-[3px] bg-base-100 px-2.5 py-1.5 overflow-hidden',
  split: 'rounded-field border border-secondary bg-base-100 grid place-items-center',
  branch: 'rounded-field border border-base-300 bg-base-200 px-2 py-1 text-xs overflow-hidden',
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

type FaceProps = Pick<ItemProps, 'item' | 'definition' | 'numbers'> & { step: Step | undefined }

function Face({ item, step, definition, numbers }: FaceProps): ReactNode {
  if (step?.kind === 'wait') return <WaitFace wait={step} numbers={numbers} />
  if (step?.kind === 'email') return <EmailFace email={step} numbers={numbers} />
  if (item.kind === 'split') return <Split size={16} aria-hidden="true" />
  if (item.kind === 'branch') {
    return <BranchFace item={item} definition={definition} numbers={numbers} />
  }
  return null
}

type Numbers = ItemProps['numbers']

function WaitFace({ wait, numbers }: { wait: WaitStep; numbers: Numbers }): ReactNode {
  const waiting = numbers?.steps.find((one) => one.step === wait.key)?.waiting ?? 0
  return (
    <>
      <Timer size={12} aria-hidden="true" className="shrink-0" />
      <span className="font-mono whitespace-nowrap">{shortDuration(wait.for)}</span>
      <Waiting count={waiting} />
    </>
  )
}

function BranchFace({ item, definition, numbers }: Omit<FaceProps, 'step'>): ReactNode {
  const own = numbers?.branches.find((one) => one.step === item.split && one.branch === item.key)
  return (
    <>
      <span className="line-clamp-2 leading-tight font-medium">{branchName(item, definition)}</span>
      {own && <span className="font-mono text-[11px] text-secondary">{own.taken}</span>}
    </>
  )
}

function Waiting({ count }: { count: number }): ReactNode {
  if (count === 0) return null
  return (
    <span className="absolute top-full mt-0.5 font-mono text-[11px] whitespace-nowrap text-secondary">
      {count} waiting
    </span>
  )
}

function EmailFace({ email, numbers }: { email: EmailStep; numbers: Numbers }): ReactNode {
  return (
    <>
      <span className="flex items-center gap-1.5 font-medium">
        <Mail size={13} aria-hidden="true" className="shrink-0" />
        <span className="truncate">{email.name || 'Unnamed message'}</span>
      </span>
      <span className="block truncate text-xs text-secondary">
        {readableTemplate(email.subject) || 'no subject yet'}
      </span>
      <span className="mt-1 flex justify-between font-mono text-[11px]">
        {numbers ? (
          <Sent {...(numbers.steps.find((one) => one.step === email.key) ?? NONE)} />
        ) : (
          <span className="font-sans text-secondary">{email.purpose}</span>
        )}
      </span>
    </>
  )
}

const NONE = { sent: 0, skipped: 0, left: 0, failed: 0 }

function Sent({ sent, skipped, left, failed }: typeof NONE): ReactNode {
  const not = skipped + left + failed
  return (
    <>
      <span>{sent} sent</span>
      {not > 0 && <span className="text-accent">{not} not sent</span>}
    </>
  )
}

function branchName(item: Item, definition: Definition): string {
  const split = allSteps(definition.steps).find(({ key }) => key === item.split)
  if (split?.kind !== 'split' || item.key === null) return 'Everyone else'
  return split.branches.find(({ key }) => key === item.key)?.name || 'Unnamed path'
}

function labelOf(item: Item, step: Step | undefined, definition: Definition): string {
  if (item.kind === 'start') return 'Start'
  if (item.kind === 'branch') return `Path: ${branchName(item, definition)}`
  if (step?.kind === 'wait') return `Wait ${shortDuration(step.for)}`
  if (step?.kind === 'email') return `Email: ${step.name || 'Unnamed message'}`
  return step?.kind === 'split' ? 'Split' : 'End'
}
