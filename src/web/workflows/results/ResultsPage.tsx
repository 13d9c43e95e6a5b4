import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useMemo, useState, type ReactNode } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { RESULT_WINDOWS, resultsResponse, type ResultsResponse } from '../../../contract/results.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson, queryOf } from '../../ui/data/api.ts'
import { PageHeading } from '../../ui/PageHeading.tsx'
import { Empty, Loading, Outdated, Problem } from '../../ui/states.tsx'
import { DataTable, type Sort } from '../../ui/table/DataTable.tsx'
import { useWorkflow } from '../page/useWorkflow.ts'
import { columnsFor } from './columns.tsx'
import { Definitions } from './Definitions.tsx'
import { messageRows, together, type MessageRow } from './shownResults.ts'
import { Tests } from './tests/Tests.tsx'
import { Summary } from './Summary.tsx'

const SPANS = [30, 90, 180, 365] as const

/** What came of a workflow, message by message. */
export function ResultsPage(): ReactNode {
  const { id = '' } = useParams()
  const [filter, setFilter] = useFilter()
  const workflow = useWorkflow(id)
  const results = useQuery({
    queryKey: ['results', id, filter],
    queryFn: ({ signal }) =>
      getJson(`/api/workflows/${id}/results${queryOf({ ...filter })}`, resultsResponse, signal),
    placeholderData: keepPreviousData,
  })
  const definition = workflow.data?.live ?? workflow.data?.draft
  const name = definition?.name || 'Unnamed workflow'
  return (
    <div className="mx-auto max-w-[1400px] p-4">
      <div className="mb-3 flex flex-wrap items-center gap-x-6 gap-y-2">
        <PageHeading title={`Results · ${name}`} className="text-xl">
          Results of{' '}
          <Link to={`/workflows/${id}`} className="hover:underline">
            {name}
          </Link>
        </PageHeading>
        <Filters filter={filter} onChange={setFilter} />
      </div>
      {workflow.error && <Problem error={workflow.error} />}
      {results.error && <Problem error={results.error} retry={() => void results.refetch()} />}
      {results.isPending && <Loading what="the results" />}
      {results.data && definition && (
        <Outdated isOutdated={results.isPlaceholderData} doing="Counting">
          <Results results={results.data} definition={definition} workflowId={id} />
        </Outdated>
      )}
      {workflow.data && definition && (
        <Tests workflowId={id} definition={definition} revision={workflow.data.draftRevision} />
      )}
      <Definitions />
    </div>
  )
}

interface Filter {
  days: number
  windowDays: number
}

/** Kept in the address, so that a link and the way back show the same. */
function useFilter(): [Filter, (filter: Filter) => void] {
  const [params, setParams] = useSearchParams()
  const chosen = (name: string, among: readonly number[], usual: number): number =>
    among.find((one) => String(one) === params.get(name)) ?? usual
  const filter = {
    days: chosen('days', SPANS, 90),
    windowDays: chosen('window', RESULT_WINDOWS, 30),
  }
  const set = ({ days, windowDays }: Filter) =>
    setParams({ days: String(days), window: String(windowDays) }, { replace: true })
  return [filter, set]
}

interface FiltersProps {
  filter: Filter
  onChange: (filter: Filter) => void
}

function Filters({ filter, onChange }: FiltersProps): ReactNode {
  return (
    <div className="ml-auto flex flex-wrap items-center gap-4 text-xs">
      <label className="flex items-center gap-2 whitespace-nowrap">
        who entered in the last
        <select
          className="select select-sm w-28"
          value={filter.days}
          onChange={(event) => onChange({ ...filter, days: Number(event.target.value) })}
        >
          {SPANS.map((days) => (
            <option key={days} value={days}>
              {days === 365 ? 'year' : `${days} days`}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2 whitespace-nowrap">
        and what they did in their first
        <select
          className="select select-sm w-28"
          value={filter.windowDays}
          onChange={(event) => onChange({ ...filter, windowDays: Number(event.target.value) })}
        >
          {RESULT_WINDOWS.map((days) => (
            <option key={days} value={days}>
              {days} days
            </option>
          ))}
        </select>
      </label>
    </div>
  )
}

interface ResultsProps {
  results: ResultsResponse
  definition: Definition
  workflowId: string
}

function Results({ results, definition, workflowId }: ResultsProps): ReactNode {
  const { over, open } = results
  const [chosen, setChosen] = useState<boolean | null>(null)
  const [sort, setSort] = useState<Sort>({ column: 'place', down: false })
  // Where nobody has had all of the time, those for whom more may come are better than nothing.
  const isWithOpen = open.entered > 0 && (chosen ?? over.entered === 0)
  const shown = useMemo(() => (isWithOpen ? together(over, open) : over), [isWithOpen, over, open])
  const rows = useMemo(() => messageRows(definition, shown), [definition, shown])
  const columns = useMemo(() => columnsFor(workflowId), [workflowId])
  if (over.entered + open.entered === 0) {
    return (
      <div className="panel">
        <Empty title="Nobody entered in this time.">
          What comes of a workflow is shown here once people go through it.
        </Empty>
      </div>
    )
  }
  return (
    <>
      <Summary results={results} shown={shown} isWithOpen={isWithOpen} onWithOpen={setChosen} />
      <div className="panel overflow-x-auto">
        <DataTable<MessageRow>
          rows={rows}
          columns={columns}
          idOf={({ step }) => step}
          sort={sort}
          onSort={setSort}
        />
      </div>
    </>
  )
}
