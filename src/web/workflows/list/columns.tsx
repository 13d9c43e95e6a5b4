import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { WorkflowListItem } from '../../../contract/workflows.ts'
import { plural } from '../../../core/words/quantities.ts'
import { Amount, Time, useShop } from '../../ui/data/shop.tsx'
import type { DataColumn } from '../../ui/table/DataTable.tsx'
import { StateChip } from '../states/StateChip.tsx'
import type { Column } from './listView.ts'

type WorkflowColumn = DataColumn<WorkflowListItem> & { id: Column }
type Figure = 'inProgress' | 'entered' | 'sent' | 'skipped' | 'left'

const figure = (id: Figure, head: string): WorkflowColumn => ({
  id,
  head,
  isFigure: true,
  isWide: id !== 'inProgress',
  startsDown: true,
  sortBy: ({ numbers }) => numbers[id],
  cell: ({ numbers }) => numbers[id],
})

/** The columns of the list, in their order. A phone has room for what a day starts with. */
export const COLUMNS: readonly WorkflowColumn[] = [
  {
    id: 'name',
    head: 'Workflow',
    className: 'max-w-80',
    sortBy: ({ name }) => name,
    cell: (workflow) => <Named workflow={workflow} />,
  },
  {
    id: 'startsWhen',
    head: 'Starts when',
    isWide: true,
    className: 'max-w-60 text-xs',
    sortBy: ({ startsWhen }) => startsWhen,
    cell: ({ startsWhen }) => startsWhen,
  },
  {
    id: 'state',
    head: 'State',
    sortBy: ({ state }) => state,
    cell: (workflow) => <State workflow={workflow} />,
  },
  figure('inProgress', 'In progress'),
  {
    id: 'nextDueAt',
    head: 'Next step due',
    isFigure: true,
    isWide: true,
    sortBy: ({ numbers }) => numbers.nextDueAt ?? undefined,
    cell: ({ numbers }) => (numbers.nextDueAt === null ? '–' : <Time at={numbers.nextDueAt} />),
  },
  figure('entered', 'Entered'),
  figure('sent', 'Sent'),
  figure('skipped', 'Skipped'),
  figure('left', 'Left'),
  {
    id: 'revenueMinor',
    head: 'Revenue',
    isFigure: true,
    startsDown: true,
    sortBy: ({ earned }) => earned.revenueMinor,
    cell: ({ earned }) => <Earnings earned={earned} />,
  },
]

/** True for the name of a column, as it may stand in an address. */
export const isColumn = (text: string | null): text is Column =>
  COLUMNS.some(({ id }) => id === text)

interface Props {
  workflow: WorkflowListItem
}

/** The name with what is said beside it: labels, and the priority where that decides. */
export function Named({ workflow, showPriority }: Props & { showPriority?: boolean }): ReactNode {
  const { id, name, description, labels, priority } = workflow
  return (
    <>
      <span className="flex flex-wrap items-baseline gap-2">
        <Link to={`/workflows/${id}`} className="font-medium hover:underline">
          {name || 'Unnamed workflow'}
        </Link>
        {showPriority && <span className="font-mono text-xs">{priority}</span>}
        {labels.map((label) => (
          <span key={label} className="text-[11px] text-secondary">
            {label}
          </span>
        ))}
      </span>
      <div className="truncate text-xs text-secondary max-sm:hidden" title={description}>
        {description}
      </div>
    </>
  )
}

function State({ workflow }: Props): ReactNode {
  return (
    <div className="flex flex-wrap gap-1">
      <StateChip state={workflow.state} version={workflow.liveVersion} />
      {workflow.hasUnpublishedChanges && <span className="chip">draft differs</span>}
      <FindingsChip workflow={workflow} />
      <Tried workflow={workflow} />
    </div>
  )
}

/** How much of it its examples go through; nothing for one that has none and has gone live without. */
function Tried({ workflow: { state, tried } }: Props): ReactNode {
  const { ways, of, examples } = tried
  if (examples === 0 && state !== 'draft') return null
  const why = `${plural(examples, 'example')} go through ${ways} of its ${plural(of, 'path')}, arms and exclusions`
  return (
    <span className="self-center text-[11px] text-secondary" title={why}>
      {examples === 0 ? 'not tried' : of === 0 ? 'tried' : `${ways}/${of} tried`}
    </span>
  )
}

/** What orders came to that count for a workflow, with how many there were. */
function Earnings({ earned }: Pick<WorkflowListItem, 'earned'>): ReactNode {
  const { currency } = useShop()
  if (earned.orders === 0) return '–'
  const why = `${plural(earned.orders, 'order')} within seven days after a message of this workflow, when it was the last they got`
  return (
    <span title={why}>
      <Amount minor={earned.revenueMinor} currency={currency} />
    </span>
  )
}

function FindingsChip({
  workflow: { findings, numbers },
}: {
  workflow: WorkflowListItem
}): ReactNode {
  const urgent = [
    numbers.needAttention > 0 ? `${numbers.needAttention} to look at` : '',
    findings.errors > 0 ? `${findings.errors} to fix` : '',
  ].filter((part) => part !== '')
  return (
    <>
      {urgent.length > 0 && (
        <span className="chip border-accent text-accent">{urgent.join(', ')}</span>
      )}
      {findings.warnings > 0 && (
        <span className="chip border-warning text-warning">{findings.warnings} to consider</span>
      )}
    </>
  )
}
