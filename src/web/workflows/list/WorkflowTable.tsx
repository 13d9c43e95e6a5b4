import { useMemo, type ReactNode } from 'react'
import type { WorkflowListItem } from '../../../contract/workflows.ts'
import { Empty } from '../../ui/states.tsx'
import { DataTable, type DataColumn } from '../../ui/table/DataTable.tsx'
import { COLUMNS, isColumn, Named } from './columns.tsx'
import { triggerTitle, type ListView } from './listView.ts'

interface Props {
  workflows: readonly WorkflowListItem[]
  view: ListView
  onView: (change: Partial<ListView>) => void
  /** The ids that are ticked; null for those who may only look. */
  chosen: ReadonlySet<string> | null
  onChoose: (chosen: ReadonlySet<string>) => void
}

/** The workflows in a table, in groups where they stand by trigger. */
export function WorkflowTable({ workflows, view, onView, chosen, onChoose }: Props): ReactNode {
  const { byTrigger, sort, down } = view
  const columns = useMemo((): readonly DataColumn<WorkflowListItem>[] => {
    const own = byTrigger ? COLUMNS.map(withPriority) : COLUMNS
    return chosen ? [tickColumn(chosen, onChoose), ...own] : own
  }, [byTrigger, chosen, onChoose])
  if (workflows.length === 0) return <NoWorkflows view={view} />
  return (
    <div className="panel overflow-x-auto">
      <DataTable<WorkflowListItem>
        rows={workflows}
        columns={columns}
        idOf={({ id }) => id}
        {...(byTrigger
          ? { sectionOf: ({ trigger }) => triggerTitle(trigger) }
          : {
              sort: { column: sort, down },
              thenBy: 'name',
              onSort: (next) =>
                isColumn(next.column) && onView({ sort: next.column, down: next.down }),
            })}
      />
    </div>
  )
}

/** By trigger, the priority decides who is tried first. */
const withPriority = (column: (typeof COLUMNS)[number]): DataColumn<WorkflowListItem> =>
  column.id === 'name'
    ? { ...column, cell: (workflow) => <Named workflow={workflow} showPriority /> }
    : column

const tickColumn = (
  chosen: ReadonlySet<string>,
  onChoose: Props['onChoose'],
): DataColumn<WorkflowListItem> => ({
  id: 'chosen',
  head: 'Chosen',
  hideHead: true,
  isWide: true,
  className: 'w-8',
  cell: ({ id, name }) => (
    <input
      type="checkbox"
      className="checkbox checkbox-sm"
      aria-label={`Choose ${name}`}
      checked={chosen.has(id)}
      onChange={() => {
        const next = new Set(chosen)
        if (!next.delete(id)) next.add(id)
        onChoose(next)
      }}
    />
  ),
})

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
