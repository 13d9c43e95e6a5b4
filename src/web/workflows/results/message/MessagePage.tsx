import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link, useLocation, useParams } from 'react-router'
import { versionResponse } from '../../../../contract/workflows.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import { allSteps } from '../../../../core/workflow/lists.ts'
import { isMessage } from '../../../../core/workflow/steps.ts'
import { getJson } from '../../../ui/data/api.ts'
import { useShop } from '../../../ui/data/shop.tsx'
import { PageHeading } from '../../../ui/PageHeading.tsx'
import { Empty, Loading, Problem } from '../../../ui/states.tsx'
import { useWorkflow } from '../../page/useWorkflow.ts'
import { WordsProvider } from '../../../ui/data/words.tsx'
import { Filters } from '../Filters.tsx'
import { queryFor, useFilter } from '../useFilter.ts'
import { useResults, type ResultsAsked } from '../useResults.ts'
import { MessageColumn } from './MessageColumn.tsx'

/** What came of one message, drawn on the message itself; beside another one, another version, or the time before. */
export function MessagePage(): ReactNode {
  const { id = '', step = '' } = useParams()
  const { search } = useLocation()
  const { zone } = useShop()
  const [filter, setFilter] = useFilter()
  const workflow = useWorkflow(id)
  const { before: _before, ...asked } = queryFor(filter, zone)
  const results = useResults(id, asked)
  const newest = workflow.data?.live ?? workflow.data?.draft
  const own = useDefinition(id, filter.version, newest)
  const versions = results.data?.versions ?? []
  const error = workflow.error ?? own.error
  const shown = own.definition
  const title = newest ? nameIn(shown ?? newest, step) : 'Message'
  return (
    <div className="mx-auto max-w-[1400px] p-4">
      <PageHeading title={`Results · ${title}`} className="mb-3 text-xl">
        <Link to={`/workflows/${id}/results${search}`} className="hover:underline">
          Results of {newest?.name || 'this workflow'}
        </Link>{' '}
        <span aria-hidden="true">›</span> {title}
      </PageHeading>
      <Filters filter={filter} onChange={setFilter} definition={newest} versions={versions}>
        {newest ? (
          <BesideChoice
            definition={newest}
            step={step}
            versions={versions}
            value={filter.beside}
            onChange={(beside) => setFilter({ ...filter, beside })}
          />
        ) : (
          <span />
        )}
      </Filters>
      {error && <Problem error={error} />}
      {workflow.isPending && <Loading what="the message" />}
      {newest && shown && (
        <WordsProvider>
          <Columns
            workflowId={id}
            newest={newest}
            shown={shown}
            step={step}
            asked={asked}
            beside={filter.beside}
            time={results.data}
          />
        </WordsProvider>
      )}
    </div>
  )
}

interface ColumnsProps {
  workflowId: string
  newest: Definition
  shown: Definition
  step: string
  asked: ResultsAsked
  beside: string
  time: { from: number; to: number } | undefined
}

/** The message, and what is to stand beside it. */
function Columns({ shown, newest, beside, time, ...about }: ColumnsProps): ReactNode {
  if (!hasMessage(shown, about.step)) {
    return <Empty title="There is no such message in this version.">Choose another version.</Empty>
  }
  return (
    <div className="flex flex-col gap-4 lg:flex-row lg:items-start">
      <MessageColumn
        {...about}
        definition={shown}
        label={nameIn(shown, about.step)}
        isAlone={beside === ''}
      />
      {beside !== '' && time && (
        <Other {...about} definition={newest} beside={beside} time={time} />
      )}
    </div>
  )
}

const messagesIn = ({ steps }: Definition) => allSteps(steps).filter((step) => isMessage(step))
const hasMessage = (definition: Definition, key: string): boolean =>
  messagesIn(definition).some((one) => one.key === key)
const nameIn = (definition: Definition, key: string): string =>
  messagesIn(definition).find((one) => one.key === key)?.name || 'Unnamed message'

/** The version that is asked for; the newest, where all are. */
function useDefinition(id: string, version: number | null, newest: Definition | undefined) {
  const read = useQuery({
    queryKey: ['workflow', id, 'version', version],
    queryFn: () => getJson(`/api/workflows/${id}/versions/${version}`, versionResponse),
    enabled: version !== null,
  })
  return { definition: version === null ? newest : read.data?.definition, error: read.error }
}

interface ChoiceProps {
  definition: Definition
  step: string
  versions: readonly number[]
  value: string
  onChange: (beside: string) => void
}

/** What else is to stand beside it: `before`, `version 3`, or the key of another message after `message`. */
function BesideChoice({ definition, step, versions, value, onChange }: ChoiceProps): ReactNode {
  const others = messagesIn(definition).filter(({ key }) => key !== step)
  return (
    <label className="flex items-center gap-2 whitespace-nowrap">
      beside
      <select
        className="select select-sm w-56"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      >
        <option value="">nothing else</option>
        <option value="before">itself, in the time before</option>
        {versions.length > 1 &&
          versions.map((version) => (
            <option key={version} value={`version ${version}`}>
              itself, in version {version}
            </option>
          ))}
        {others.map(({ key, name }) => (
          <option key={key} value={`message ${key}`}>
            {name || 'Unnamed message'}
          </option>
        ))}
      </select>
    </label>
  )
}

interface OtherProps {
  workflowId: string
  definition: Definition
  step: string
  asked: ResultsAsked
  beside: string
  /** The time that is shown: the one before it is as long. */
  time: { from: number; to: number }
}

function Other({ workflowId, definition, step, asked, beside, time }: OtherProps): ReactNode {
  const [kind, key = ''] = beside.split(' ')
  const version = kind === 'version' ? Number(key) : null
  const { definition: shown, error } = useDefinition(workflowId, version, definition)
  if (error) return <Problem error={error} />
  if (!shown) return <Loading what="the other one" />
  const of = kind === 'message' ? key : step
  const label =
    kind === 'before'
      ? 'In the time before'
      : kind === 'version'
        ? `In version ${key}`
        : nameIn(shown, of)
  if (!hasMessage(shown, of)) {
    const title = kind === 'version' ? `It was not in version ${key}.` : 'There is no such message.'
    return <Empty title={title}>Choose another one.</Empty>
  }
  return (
    <MessageColumn
      workflowId={workflowId}
      definition={shown}
      step={of}
      asked={askedFor(asked, kind ?? '', version, time)}
      label={label}
      isAlone={false}
    />
  )
}

function askedFor(
  asked: ResultsAsked,
  kind: string,
  version: number | null,
  { from, to }: OtherProps['time'],
): ResultsAsked {
  if (kind === 'version') return { ...asked, version: version ?? undefined }
  if (kind !== 'before') return asked
  const { days: _days, ...rest } = asked
  return { ...rest, from: from - (to - from), to: from }
}
