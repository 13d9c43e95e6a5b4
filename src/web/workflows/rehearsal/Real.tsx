import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { z } from 'zod'
import { rehearsalPerson, type Occasion } from '../../../contract/rehearsal.ts'
import { entryWords } from '../../../core/words/decisions.ts'
import { EVENT_WORDS } from '../../../core/words/eventWords.ts'
import { dateWords } from '../../../core/words/quantities.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson, queryOf } from '../../ui/data/api.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { SearchField } from '../../ui/fields/SearchField.tsx'
import { Outdated, Problem } from '../../ui/states.tsx'
import { useWords } from '../../ui/data/words.tsx'
import { useLikenesses } from './useLikenesses.ts'

interface Props {
  workflowId: string
  definition: Definition
  onChoose: (subject: Subject) => void
}

/** Somebody real, found by name, address or number: who is made up becomes like them, as they were then. */
export function Real(props: Props): ReactNode {
  const [search, setSearch] = useState('')
  const [chosen, setChosen] = useState<string | null>(null)
  const found = useQuery({
    queryKey: ['rehearsal', 'people', search],
    queryFn: ({ signal }) =>
      getJson(`/api/rehearsal/people${queryOf({ search })}`, z.array(rehearsalPerson), signal),
    placeholderData: (previous) => previous,
    enabled: search !== '',
  })
  return (
    <section className="panel p-4" aria-label="Like somebody real">
      <h2 className="mb-2 text-base">Like somebody real</h2>
      <SearchField
        label="Search people"
        className="w-full"
        placeholder="Name, address or order number"
        value={search}
        onSearch={(to) => {
          setSearch(to)
          setChosen(null)
        }}
      />
      {found.error && <Problem error={found.error} />}
      {search !== '' && found.data && (
        <Outdated isOutdated={found.isPlaceholderData}>
          <ul className="mt-2 flex flex-col gap-1">
            {found.data.length === 0 && <li className="text-secondary">Nobody.</li>}
            {found.data.map(({ id, name, email }) => (
              <li key={id}>
                <button
                  type="button"
                  aria-expanded={chosen === id}
                  className="min-h-6 w-full truncate text-left hover:underline"
                  onClick={() => setChosen(chosen === id ? null : id)}
                >
                  {name ?? email ?? id}
                </button>
                {chosen === id && <Occasions customerId={id} {...props} />}
              </li>
            ))}
          </ul>
        </Outdated>
      )}
    </section>
  )
}

interface OccasionsProps extends Props {
  customerId: string
}

/** When it could have begun for them, and what came of it; what happened to them instead where it never could. */
function Occasions({ customerId, workflowId, definition, onChoose }: OccasionsProps): ReactNode {
  const { zone } = useShop()
  const { trigger } = definition
  const { data, error, isPending } = useLikenesses({ customerId, workflowId, trigger })
  if (error) return <Problem error={error} />
  if (isPending) return <p className="pl-3 text-xs text-secondary">Looking …</p>
  if (data.occasions.length === 0) {
    return (
      <p className="pl-3 text-xs text-secondary">
        Nothing it starts by has happened to them. What did:{' '}
        {data.happened
          .slice(0, MOST_TYPES)
          .map(
            ({ type, count, lastAt }) =>
              `${EVENT_WORDS[type].label} (${count === 1 ? '' : `${count} times, last `}${dateWords(lastAt, zone)})`,
          ) // prettier-ignore
          .join(', ') || 'nothing at all'}
        .
      </p>
    )
  }
  return (
    <ul className="pl-3 text-xs">
      {data.occasions.map((occasion) => (
        <li key={occasion.event} className="mb-1">
          <button
            type="button"
            className="link min-h-6 text-left"
            onClick={() => onChoose(occasion.subject)}
          >
            {occasion.number === null ? '' : `${occasion.number}, `}
            {EVENT_WORDS[occasion.type].label} {dateWords(occasion.at, zone)}
          </button>
          <Came came={occasion.came} definition={definition} />
        </li>
      ))}
    </ul>
  )
}

const MOST_TYPES = 6

/** Why nothing was decided of what had come. */
const UNDECIDED = {
  paused: 'The workflow was paused when it came.',
  retired: 'The workflow was out of use by then.',
  live: 'Nothing was decided: the version of then began with something else.',
  unknown: 'Nothing was decided: it was paused, or began with something else then.',
} as const

/** What the workflow really made of it. */
function Came({ came, definition }: Pick<Occasion, 'came'> & { definition: Definition }): ReactNode {
  const words = useWords()
  const { runId, turnedAway, isBeforeLive, state } = came
  if (runId !== null) {
    return (
      <span className="block text-secondary">
        They came in:{' '}
        <Link className="link" to={`/runs/${runId}`}>
          what was decided
        </Link>
      </span>
    )
  }
  return (
    <span className="block text-secondary">
      {turnedAway && `${entryWords(turnedAway, definition, words)}.`}
      {!turnedAway && isBeforeLive && 'The workflow was not live yet.'}
      {!turnedAway && !isBeforeLive && UNDECIDED[state ?? 'unknown']}
    </span>
  )
} // prettier-ignore
