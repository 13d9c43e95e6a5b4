import { useMemo, useState, type ReactNode } from 'react'
import { Link, useLocation, useParams } from 'react-router'
import type { ResultsResponse } from '../../../contract/results.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { exclusionRule } from '../../../core/words/exclusionRule.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { PageHeading } from '../../ui/PageHeading.tsx'
import { Empty, Loading, Outdated, Problem } from '../../ui/states.tsx'
import { DataTable, type Sort } from '../../ui/table/DataTable.tsx'
import { useWorkflow } from '../page/useWorkflow.ts'
import { columnsFor } from './columns.tsx'
import { Definitions } from './Definitions.tsx'
import { Downloads, Filters } from './Filters.tsx'
import { measuredBy, type ShownMeasure } from './measured.ts'
import { People, type Figure } from './People.tsx'
import { queryFor, useFilter } from './useFilter.ts'
import { useResults } from './useResults.ts'
import { useWords, WordsProvider } from '../../ui/data/words.tsx'
import { messageRows, together, type MessageRow } from './shownResults.ts'
import { Tests } from './tests/Tests.tsx'
import { Way } from './Way.tsx'
import { Summary } from './Summary.tsx'

/** What came of a workflow, message by message. */
export function ResultsPage(): ReactNode {
  const { id = '' } = useParams()
  const [filter, setFilter] = useFilter()
  const workflow = useWorkflow(id)
  const { zone } = useShop()
  const query = queryFor(filter, zone)
  const results = useResults(id, query)
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
        <span className="ml-auto">
          <Downloads filter={filter} workflowId={id} />
        </span>
      </div>
      <Filters
        filter={filter}
        onChange={setFilter}
        definition={definition}
        versions={results.data?.versions ?? []}
      />
      {workflow.error && <Problem error={workflow.error} />}
      {results.error && <Problem error={results.error} retry={() => void results.refetch()} />}
      {results.isPending && <Loading what="the results" />}
      {results.data && definition && (
        <Outdated isOutdated={results.isPlaceholderData} doing="Counting">
          <WordsProvider>
            <Results
              results={results.data}
              definition={definition}
              workflowId={id}
              query={query}
              show={filter.show}
            />
          </WordsProvider>
        </Outdated>
      )}
      {workflow.data && definition && (
        <Tests workflowId={id} definition={definition} revision={workflow.data.draftRevision} />
      )}
      <Definitions />
    </div>
  )
}

interface ResultsProps {
  results: ResultsResponse
  definition: Definition
  workflowId: string
  query: ReturnType<typeof queryFor>
  show: ShownMeasure
}

function Results({ results, definition, workflowId, query, show }: ResultsProps): ReactNode {
  const { over, open, before } = results
  const words = useWords()
  const { search } = useLocation()
  const [figure, setFigure] = useState<Figure | null>(null)
  const [chosen, setChosen] = useState<boolean | null>(null)
  const [sort, setSort] = useState<Sort>({ column: 'place', down: false })
  // Where nobody has had all of the time, those for whom more may come are better than nothing.
  const isWithOpen = open.entered > 0 && (chosen ?? over.entered === 0)
  const shown = useMemo(() => (isWithOpen ? together(over, open) : over), [isWithOpen, over, open])
  const numbers = useMemo(() => {
    const { numbers: counted, ways } = isWithOpen ? results.through.all : results.through.over
    const earlier = before && { messages: before.messages, ways: before.through.ways }
    return { ...counted, measured: measuredBy(show, { messages: shown.messages, ways }, earlier) }
  }, [results, shown, isWithOpen, before, show])
  const rows = useMemo(() => messageRows(definition, shown, before), [definition, shown, before])
  const columns = useMemo(() => {
    const exclusionWords = (key: string) => exclusionRule(key, definition, words)
    return columnsFor({
      onPeople: setFigure,
      exclusionWords,
      pathOf: (step) => `/workflows/${workflowId}/results/${step}${search}`,
    })
  }, [definition, words, workflowId, search])
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
      <Way
        definition={definition}
        numbers={numbers}
        before={before?.through.numbers}
        onPeople={setFigure}
      />
      <div className="panel overflow-x-auto [&_td]:px-2 [&_th]:px-2">
        <DataTable<MessageRow>
          rows={rows}
          columns={columns}
          idOf={({ step }) => step}
          sort={sort}
          onSort={setSort}
        />
      </div>
      {figure && (
        <People
          key={figure.title}
          figure={figure}
          workflowId={workflowId}
          query={query}
          isWithOpen={isWithOpen}
          onClose={() => setFigure(null)}
        />
      )}
    </>
  )
}
