import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useMemo, useState, type ReactNode } from 'react'
import { messageDetail } from '../../../../contract/results.ts'
import type { Definition } from '../../../../core/workflow/definition.ts'
import { allSteps } from '../../../../core/workflow/lists.ts'
import { isMessage } from '../../../../core/workflow/steps.ts'
import { exclusionRule } from '../../../../core/words/exclusionRule.ts'
import { getJson, queryOf } from '../../../ui/data/api.ts'
import { Loading, Problem } from '../../../ui/states.tsx'
import { useWords } from '../../../ui/data/words.tsx'
import { People, type Figure } from '../People.tsx'
import { messageRows, together } from '../shownResults.ts'
import { useResults, type ResultsAsked } from '../useResults.ts'
import { Days } from './Days.tsx'
import { Figures } from './Figures.tsx'
import { FollowedMail } from './FollowedMail.tsx'
import { Links } from './Links.tsx'
import { LocalTimes } from './Times.tsx'
import { UntilOrder } from './UntilOrder.tsx'

interface Props {
  workflowId: string
  /** As it was or is sent. */
  definition: Definition
  step: string
  asked: ResultsAsked
  /** What this one is, where two stand side by side. */
  label: string
  /** It has the width to itself. */
  isAlone: boolean
}

/** One message with all that came of it. */
export function MessageColumn({
  workflowId,
  definition,
  step,
  asked,
  label,
  isAlone,
}: Props): ReactNode {
  const words = useWords()
  const [figure, setFigure] = useState<Figure | null>(null)
  const results = useResults(workflowId, asked)
  const { over, open } = results.data ?? {}
  // Where nobody has had all of the time, those for whom more may come are better than nothing.
  const isWithOpen = over?.entered === 0
  const row = useMemo(() => {
    if (!over || !open) return undefined
    const rows = messageRows(definition, isWithOpen ? together(over, open) : over)
    return rows.find((one) => one.step === step)
  }, [definition, over, open, isWithOpen, step])
  const detail = useDetail(workflowId, step, asked, isWithOpen, over !== undefined)
  const message = allSteps(definition.steps).find((one) => one.key === step)
  if (results.error) return <Problem error={results.error} retry={() => void results.refetch()} />
  if (detail.error) return <Problem error={detail.error} retry={() => void detail.refetch()} />
  if (!row || !detail.data) return <Loading what="what came of it" />
  const exclusionWords = (key: string) => exclusionRule(key, definition, words)
  const { links, hours, weekdays, days, untilOrder } = detail.data
  const mail = message && isMessage(message) && (
    <FollowedMail
      definition={definition}
      message={message}
      links={links}
      delivered={row.delivered}
    />
  )
  return (
    <section className="panel min-w-0 flex-1 p-4" aria-label={label}>
      <h2 className="mb-3 text-base">{label}</h2>
      <div className={isAlone ? 'grid gap-6 lg:grid-cols-2' : 'flex flex-col gap-5'}>
        <div className="flex min-w-0 flex-col gap-5">
          <Figures row={row} onPeople={setFigure} exclusionWords={exclusionWords} />
          {mail}
        </div>
        <div className="flex min-w-0 flex-col gap-5">
          <Links links={links} delivered={row.delivered} />
          <UntilOrder untilOrder={untilOrder} />
          <Days days={days} />
          <LocalTimes hours={hours} weekdays={weekdays} />
        </div>
      </div>
      {figure && (
        <People
          key={figure.title}
          figure={figure}
          workflowId={workflowId}
          query={asked}
          isWithOpen={isWithOpen}
          onClose={() => setFigure(null)}
        />
      )}
    </section>
  )
}

function useDetail(
  workflowId: string,
  step: string,
  asked: ResultsAsked,
  isWithOpen: boolean,
  isKnown: boolean,
) {
  return useQuery({
    queryKey: ['results', workflowId, 'message', step, asked, isWithOpen],
    queryFn: ({ signal }) =>
      getJson(`/api/workflows/${workflowId}/results/message${queryOf({ ...asked, step, isWithOpen: String(isWithOpen) })}`, messageDetail, signal), // prettier-ignore
    placeholderData: keepPreviousData,
    enabled: isKnown,
  })
}
