import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { Occasion } from '../../../contract/rehearsal.ts'
import { entryWords } from '../../../core/words/decisions.ts'
import { EVENT_WORDS } from '../../../core/words/eventWords.ts'
import { dateWords } from '../../../core/words/quantities.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import type { Subject } from '../../../core/workflow/rehearsalSubject.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { useWords } from '../../ui/data/words.tsx'
import { Problem } from '../../ui/states.tsx'
import { useLikenesses } from './useLikenesses.ts'

/** Of which workflow, and what becomes of the occasion that is chosen. */
export interface OccasionsFor {
  workflowId: string
  definition: Definition
  onChoose: (subject: Subject) => void
}

interface Props extends OccasionsFor {
  customerId: string
}

/** When it could have begun for them, and what came of it; what happened to them instead where it never could. */
export function Occasions({ customerId, workflowId, definition, onChoose }: Props): ReactNode {
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
