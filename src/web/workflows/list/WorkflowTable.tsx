import { ArrowDown, ArrowUp } from 'lucide-react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { WorkflowListItem } from '../../../contract/workflows.ts'
import { Amount, Time, useShop } from '../../ui/data/shop.tsx'
import { plural } from '../../../core/words/quantities.ts'
import { Empty } from '../../ui/states.tsx'
import { StateChip } from '../states/StateChip.tsx'
import { COLUMNS, type Column, type Group, type ListView } from './listView.ts'

interface Props {
  groups: readonly Group[]
  view: ListView
  onView: (change: Partial<ListView>) => void
  /** The ids that are ticked; null for those who may only look. */
  chosen: ReadonlySet<string> | null
  onChoose: (chosen: ReadonlySet<string>) => void
}

/** The workflows in a table, in groups where they stand by trigger. */
export function WorkflowTable({ groups, view, onView, chosen, onChoose }: Props): ReactNode {
  if (groups.every(({ workflows }) => workflows.length === 0)) return <NoWorkflows view={view} />
  const columns = Object.keys(COLUMNS) as Column[]
  const toggle = (id: string): void => {
    const next = new Set(chosen)
    if (!next.delete(id)) next.add(id)
    onChoose(next)
  }
  return (
    <div className="panel overflow-x-auto">
      <table className="table table-sm">
        <thead>
          <tr>
            {chosen && (
              <th scope="col" className={`w-8 ${NOT_ON_PHONES}`}>
                <span className="sr-only">Chosen</span>
              </th>
            )}
            {columns.map((column) => (
              <Head key={column} column={column} view={view} onView={onView} />
            ))}
          </tr>
        </thead>
        {groups.map(({ title, workflows }) => (
          <tbody key={title ?? 'all'}>
            {title !== null && (
              <tr>
                <th
                  scope="rowgroup"
                  colSpan={columns.length + (chosen ? 1 : 0)}
                  className="bg-base-200 text-base-content"
                >
                  {title}
                </th>
              </tr>
            )}
            {workflows.map((workflow) => (
              <WorkflowRow
                key={workflow.id}
                workflow={workflow}
                showPriority={title !== null}
                isChosen={chosen?.has(workflow.id)}
                onToggle={() => toggle(workflow.id)}
              />
            ))}
          </tbody>
        ))}
      </table>
    </div>
  )
}

const NOT_ON_PHONES = 'max-sm:hidden'

function NoWorkflows({ view }: { view: ListView }): ReactNode {
  const searching = view.search !== '' || view.label !== null
  return (
    <div className="panel">
      <Empty
        title={
          searching ? 'No workflow has that in its name, trigger or labels.' : 'No workflows yet.'
        }
      >
        {searching ? null : 'Make the first one with “New workflow”.'}
      </Empty>
    </div>
  )
}

interface HeadProps extends Pick<Props, 'view' | 'onView'> {
  column: Column
}

function Head({ column, view, onView }: HeadProps): ReactNode {
  const { head, isFigure, onPhone } = COLUMNS[column]
  const isSorted = view.sort === column && !view.byTrigger
  const Arrow = view.down ? ArrowDown : ArrowUp
  return (
    <th
      scope="col"
      className={`${isFigure ? 'text-right' : ''} ${onPhone ? '' : NOT_ON_PHONES}`}
      aria-sort={isSorted ? (view.down ? 'descending' : 'ascending') : undefined}
    >
      <button
        type="button"
        className="inline-flex items-center gap-1 whitespace-nowrap hover:underline"
        disabled={view.byTrigger}
        onClick={() =>
          onView(isSorted ? { down: !view.down } : { sort: column, down: startsDown(column) })
        }
      >
        {head}
        {isSorted && <Arrow size={12} aria-hidden="true" />}
      </button>
    </th>
  )
}

/** Figures from the largest, but the next step from the soonest. */
const startsDown = (column: Column): boolean => COLUMNS[column].isFigure && column !== 'nextDueAt'

interface RowProps {
  workflow: WorkflowListItem
  showPriority: boolean
  isChosen: boolean | undefined
  onToggle: () => void
}

function WorkflowRow({ workflow, showPriority, isChosen, onToggle }: RowProps): ReactNode {
  const { id, name, description, startsWhen, numbers, labels, priority } = workflow
  return (
    <tr className="hover:bg-base-200">
      {isChosen !== undefined && (
        <td className={NOT_ON_PHONES}>
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            aria-label={`Choose ${name}`}
            checked={isChosen}
            onChange={onToggle}
          />
        </td>
      )}
      <td className="max-w-80">
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
      </td>
      <td className={`max-w-60 text-xs ${NOT_ON_PHONES}`}>{startsWhen}</td>
      <td>
        <div className="flex flex-wrap gap-1">
          <StateChip state={workflow.state} version={workflow.liveVersion} />
          {workflow.hasUnpublishedChanges && <span className="chip">draft differs</span>}
          <FindingsChip workflow={workflow} />
        </div>
      </td>
      <td className="text-right font-mono text-xs">{numbers.inProgress}</td>
      <td className={`text-right ${NOT_ON_PHONES}`}>
        {numbers.nextDueAt === null ? '–' : <Time at={numbers.nextDueAt} />}
      </td>
      <td className={`text-right font-mono text-xs ${NOT_ON_PHONES}`}>{numbers.entered}</td>
      <td className={`text-right font-mono text-xs ${NOT_ON_PHONES}`}>{numbers.sent}</td>
      <td className={`text-right font-mono text-xs ${NOT_ON_PHONES}`}>{numbers.skipped}</td>
      <td className={`text-right font-mono text-xs ${NOT_ON_PHONES}`}>{numbers.left}</td>
      <td className="text-right font-mono text-xs">
        <Earnings earned={workflow.earned} />
      </td>
    </tr>
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
