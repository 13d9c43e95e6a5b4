import { useQuery } from '@tanstack/react-query'
import { X } from 'lucide-react'
import { useEffect, useRef, type ReactNode } from 'react'
import { Link } from 'react-router'
import { peopleResponse, type PeopleMeasure } from '../../../contract/results.ts'
import { getJson, queryOf } from '../../ui/data/api.ts'
import { Amount, Time, useShop } from '../../ui/data/shop.tsx'
import type { ResultsAsked } from './useResults.ts'
import { Loading, Problem } from '../../ui/states.tsx'

/** A figure whose people are asked for. */
export interface Figure {
  measure: PeopleMeasure
  /** What is said of them: "Clicked: Thank you". */
  title: string
  step?: string
  code?: string
  exclusion?: string
}

interface Props {
  figure: Figure
  workflowId: string
  /** Whose results are shown. */
  query: ResultsAsked
  isWithOpen: boolean
  onClose: () => void
}

/** The people behind a figure, each with the way to all that happened to them there. */
export function People({ figure, workflowId, query, isWithOpen, onClose }: Props): ReactNode {
  const { currency } = useShop()
  const heading = useRef<HTMLHeadingElement>(null)
  const { title, ...asked } = figure
  const people = useQuery({
    queryKey: ['results', workflowId, 'people', query, asked, isWithOpen],
    queryFn: ({ signal }) =>
      getJson(`/api/workflows/${workflowId}/results/people${queryOf({ ...query, ...asked, isWithOpen: String(isWithOpen) })}`, peopleResponse, signal), // prettier-ignore
  })
  useEffect(() => heading.current?.focus(), [])
  return (
    <aside
      className="panel fixed inset-y-0 right-0 z-40 flex w-full max-w-md flex-col shadow-xl"
      aria-label="The people behind the figure"
      onKeyDown={(event) => event.key === 'Escape' && onClose()}
    >
      <header className="flex items-start gap-2 border-b border-base-300 p-3">
        <h2 ref={heading} tabIndex={-1} className="grow text-base outline-none">
          {title}
        </h2>
        <button
          type="button"
          className="btn btn-ghost btn-square btn-sm"
          aria-label="Close"
          onClick={onClose}
        >
          <X size={16} aria-hidden="true" />
        </button>
      </header>
      <div className="grow overflow-y-auto p-3">
        {people.error && <Problem error={people.error} retry={() => void people.refetch()} />}
        {people.isPending && <Loading what="the people" />}
        {people.data?.people.length === 0 && <p className="text-secondary">Nobody.</p>}
        <ul className="flex flex-col divide-y divide-base-300">
          {people.data?.people.map(
            ({ runId, customerId, name, email, enteredAt, revenueMinor }) => (
              <li key={runId} className="py-2">
                <Link to={`/runs/${runId}`} className="font-medium hover:underline">
                  {name ?? email ?? customerId}
                </Link>
                <span className="flex flex-wrap justify-between gap-x-3 text-xs text-secondary">
                  <span>
                    entered <Time at={enteredAt} />
                  </span>
                  {revenueMinor > 0 && <Amount minor={revenueMinor} currency={currency} />}
                </span>
              </li>
            ),
          )}
        </ul>
        {people.data?.hasMore && (
          <p className="mt-2 text-xs text-secondary">
            These are the {people.data.people.length} who entered last. Choose a shorter time to see
            others.
          </p>
        )}
      </div>
    </aside>
  )
}
