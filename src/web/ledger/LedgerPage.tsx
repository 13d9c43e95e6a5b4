import { useQuery } from '@tanstack/react-query'
import { useMemo, type ReactNode } from 'react'
import { Link, useSearchParams } from 'react-router'
import { z } from 'zod'
import {
  ledgerResponse,
  ledgerShow,
  type LedgerRow,
  type LedgerShow,
} from '../../contract/activity.ts'
import { workflowName } from '../../contract/workflows.ts'
import { getJson, queryOf } from '../ui/data/api.ts'
import { usePages } from '../ui/data/usePages.ts'
import { EarlierButtons } from '../ui/EarlierButtons.tsx'
import { DataTable, type DataColumn } from '../ui/table/DataTable.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { SearchField } from '../ui/fields/SearchField.tsx'
import { Time } from '../ui/data/shop.tsx'
import { Empty, Loading, Outdated, Problem } from '../ui/states.tsx'
import { AttentionList } from './AttentionList.tsx'

const SHOWS: Readonly<Record<LedgerShow, string>> = {
  all: 'Every decision',
  sent: 'Sent',
  notSent: 'Skipped or left',
  turnedAway: 'Turned away',
  acts: 'Done by hand',
  attention: 'Needs attention',
}

/** Every decision, newest first, in plain words. */
export function LedgerPage(): ReactNode {
  const [query, setQuery] = useSearchParams()
  const filter = {
    show: ledgerShow.catch('all').parse(query.get('show')),
    workflow: query.get('workflow') ?? '',
    search: query.get('search') ?? '',
  }
  const set = (changed: Partial<typeof filter>) => {
    const next = Object.entries({ ...filter, ...changed }).filter(([, value]) => value !== '')
    setQuery(new URLSearchParams(next), { replace: true })
  }
  const ledger = usePages({
    key: 'ledger',
    path: '/api/ledger',
    filter,
    schema: ledgerResponse,
    nextOf: ({ rows, more }) => (more ? rows.at(-1)?.id : undefined),
    refreshMs: 5000,
  })
  const rows = useMemo(() => ledger.pages?.flatMap((page) => page.rows), [ledger.pages])
  return (
    <div className="mx-auto max-w-[1400px] p-4">
      <div className="mb-3 flex flex-wrap items-center gap-2">
        <PageHeading title="Ledger" className="mr-2 text-xl" />
        <div role="group" aria-label="Show" className="flex flex-wrap gap-1">
          {ledgerShow.options.map((show) => (
            <button
              key={show}
              type="button"
              aria-pressed={filter.show === show}
              className={`btn btn-sm ${filter.show === show ? 'btn-neutral' : ''}`}
              onClick={() => set({ show })}
            >
              {SHOWS[show]}
            </button>
          ))}
        </div>
        <WorkflowFilter value={filter.workflow} onChange={(workflow) => set({ workflow })} />
        <SearchField
          label="Search the ledger"
          className="w-64 md:ml-auto"
          placeholder="Name, address or order number"
          value={filter.search}
          onSearch={(search) => set({ search })}
        />
      </div>
      {filter.show === 'attention' && (
        <>
          <AttentionList />
          <h2 className="mb-2 text-base">What has happened</h2>
        </>
      )}
      <div className="panel overflow-x-auto">
        {ledger.error && <Problem error={ledger.error} retry={ledger.refetch} />}
        {ledger.isPending && <Loading what="the ledger" />}
        {rows && (
          <Outdated isOutdated={ledger.isOutdated}>
            <Rows rows={rows} />
          </Outdated>
        )}
      </div>
      <EarlierButtons
        earlier={ledger.earlier}
        toNewest={ledger.toNewest}
        isFetching={ledger.isFetchingEarlier}
        size="btn-sm"
        className="mt-3"
      />
    </div>
  )
}

function WorkflowFilter({
  value,
  onChange,
}: {
  value: string
  onChange: (id: string) => void
}): ReactNode {
  const workflows = useQuery({
    queryKey: ['workflows', 'names'],
    queryFn: ({ signal }) => getJson('/api/workflow-names', z.array(workflowName), signal),
  })
  return (
    <select
      className="select select-sm w-52"
      aria-label="Workflow"
      value={value}
      onChange={(event) => onChange(event.target.value)}
    >
      <option value="">All workflows</option>
      {workflows.data?.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  )
}

const whoIs = ({ customer }: LedgerRow): string => customer.name || customer.email || customer.id

const COLUMNS: readonly DataColumn<LedgerRow>[] = [
  { id: 'at', head: 'When', cell: ({ at }) => <Time at={at} /> },
  {
    id: 'who',
    head: 'Who',
    isWide: true,
    className: 'max-w-56 truncate',
    title: ({ customer }) => customer.email ?? undefined,
    cell: (row) => (
      <Link className="hover:underline" to={`/people/${encodeURIComponent(row.customer.id)}`}>
        {whoIs(row)}
      </Link>
    ),
  },
  {
    id: 'order',
    head: 'Order',
    isWide: true,
    className: 'font-mono text-xs',
    cell: ({ orderNumber }) => orderNumber ?? '–',
  },
  {
    id: 'workflow',
    head: 'Workflow',
    isWide: true,
    className: 'max-w-44 truncate text-secondary',
    cell: ({ workflow }) => workflow?.name ?? '–',
  },
  { id: 'words', head: 'What was decided', cell: (row) => <Decided row={row} /> },
]

/** The decision, with whom it is about where a phone has no column for that. */
function Decided({ row }: { row: LedgerRow }): ReactNode {
  return (
    <>
      <span className="block text-xs text-secondary md:hidden">
        {whoIs(row)}
        {row.workflow && `, ${row.workflow.name}`}
      </span>
      <Link className="hover:underline" to={behind(row)}>
        {row.words}
      </Link>
    </>
  )
}

/** Who was turned away has no run: somebody like them is taken through instead, as they were then. */
function behind({ runId, workflow, customer, at }: LedgerRow): string {
  if (runId !== null) return `/runs/${runId}`
  if (workflow === null) return `/people/${encodeURIComponent(customer.id)}`
  return `/workflows/${workflow.id}/rehearsal${queryOf({ person: customer.id, at: String(at) })}`
}

function Rows({ rows }: { rows: LedgerRow[] }): ReactNode {
  if (rows.length === 0) {
    return (
      <Empty title="Nothing here.">
        As soon as a live workflow decides something, it is written down here.
      </Empty>
    )
  }
  return <DataTable<LedgerRow> rows={rows} columns={COLUMNS} idOf={({ id }) => String(id)} />
}
