import { keepPreviousData, useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
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
  attention: 'Needs attention',
}

/** Every decision, newest first, in plain words. */
export function LedgerPage(): ReactNode {
  const [query, setQuery] = useSearchParams()
  const filter = {
    show: ledgerShow.catch('all').parse(query.get('show')),
    workflow: query.get('workflow') ?? '',
    search: query.get('search') ?? '',
    before: query.get('before') ?? '',
  }
  const set = (changed: Partial<typeof filter>) => {
    const next = Object.entries({ ...filter, before: '', ...changed }).filter(
      ([, value]) => value !== '',
    )
    setQuery(new URLSearchParams(next), { replace: !('before' in changed) })
  }
  const page = useQuery({
    queryKey: ['ledger', filter],
    queryFn: ({ signal }) => getJson(`/api/ledger${queryOf(filter)}`, ledgerResponse, signal),
    placeholderData: keepPreviousData,
    refetchInterval: filter.before === '' ? 5000 : false,
  })
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
        {page.error && <Problem error={page.error} retry={() => void page.refetch()} />}
        {page.isPending && <Loading what="the ledger" />}
        {page.data && (
          <Outdated isOutdated={page.isPlaceholderData}>
            <Rows rows={page.data.rows} />
          </Outdated>
        )}
      </div>
      <Paging
        page={page.data}
        isPast={filter.before !== ''}
        onBefore={(before) => set({ before })}
      />
    </div>
  )
}

interface PagingProps {
  page: { rows: LedgerRow[]; more: boolean } | undefined
  /** What is shown is not the newest. */
  isPast: boolean
  onBefore: (before: string) => void
}

function Paging({ page, isPast, onBefore }: PagingProps): ReactNode {
  return (
    <>
      {page?.more && (
        <button
          type="button"
          className="btn btn-sm mt-3"
          onClick={() => onBefore(String(page.rows.at(-1)?.id ?? ''))}
        >
          Earlier
        </button>
      )}
      {isPast && (
        <button
          type="button"
          className="btn btn-ghost btn-sm mt-3 ml-2"
          onClick={() => onBefore('')}
        >
          Back to the newest
        </button>
      )}
    </>
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

/** Columns that a phone has no room for; it shows them above the decision. */
const WIDE = 'max-md:hidden'

const whoIs = ({ customer }: LedgerRow): string => customer.name || customer.email || customer.id

function Rows({ rows }: { rows: LedgerRow[] }): ReactNode {
  if (rows.length === 0) {
    return (
      <Empty title="Nothing here.">
        As soon as a live workflow decides something, it is written down here.
      </Empty>
    )
  }
  return (
    <table className="table table-sm">
      <thead>
        <tr>
          <th scope="col">When</th>
          <th scope="col" className={WIDE}>
            Who
          </th>
          <th scope="col" className={WIDE}>
            Order
          </th>
          <th scope="col" className={WIDE}>
            Workflow
          </th>
          <th scope="col">What was decided</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.id} className="hover:bg-base-200">
            <td>
              <Time at={row.at} />
            </td>
            <td className={`max-w-56 truncate ${WIDE}`} title={row.customer.email ?? undefined}>
              {whoIs(row)}
            </td>
            <td className={`font-mono text-xs ${WIDE}`}>{row.orderNumber ?? '–'}</td>
            <td className={`max-w-44 truncate text-secondary ${WIDE}`}>{row.workflow.name}</td>
            <td>
              <span className="block text-xs text-secondary md:hidden">
                {whoIs(row)}, {row.workflow.name}
              </span>
              {row.runId === null ? (
                row.words
              ) : (
                <Link className="hover:underline" to={`/runs/${row.runId}`}>
                  {row.words}
                </Link>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
