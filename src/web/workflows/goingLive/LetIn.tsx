import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import {
  INTAKE_DAYS,
  qualifyingResponse,
  type QualifyingResponse,
} from '../../../contract/goingLive.ts'
import { dateWords, peopleWords, plural } from '../../../core/words/quantities.ts'
import { NOT_SENT_WORDS } from '../../../core/words/measures.ts'
import { stepName } from '../../../core/words/steps.ts'
import { TURNED_AWAY_WORDS } from '../../../core/words/turnAwayCounts.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson } from '../../ui/data/api.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { useSettled } from '../../ui/hooks/useSettled.ts'
import { Loading, Problem } from '../../ui/states.tsx'
import type { LettingIn } from './choices.ts'
import { Part } from './Part.tsx'

interface Props {
  id: string
  definition: Definition
  /** The draft as the server has it; null while it is being saved. */
  saved: Definition | null
  isRunnable: boolean
  chosen: LettingIn
  onChoose: (chosen: LettingIn) => void
}

/** Who qualified in the last days and would be let in: how many, who they are, what each gets and when. */
export function LetIn({ id, definition, saved, isRunnable, chosen, onChoose }: Props): ReactNode {
  const { days, perHour } = chosen
  const asked = useSettled(perHour, perHour)
  const { data, error } = useQuery({
    queryKey: ['qualifying', id, saved, days, asked],
    queryFn: ({ signal }) =>
      getJson(`/api/workflows/${id}/qualifying?days=${days}&perHour=${asked}`, qualifyingResponse, signal),
    enabled: days > 0 && isRunnable && saved !== null,
    // Another pace moves their turns; whom it is about stays.
    placeholderData: (before, query) => (query?.queryKey[3] === days ? before : undefined),
  })
  if (definition.trigger.kind === 'hand') return null
  return (
    <Part title="Who qualifies already">
      <div className="flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-2">
          Let in
          <select
            className="select select-sm w-auto"
            value={days}
            disabled={!isRunnable}
            onChange={(event) => onChoose({ ...chosen, days: Number(event.target.value) })}
          >
            <option value={0}>nobody: only who comes from now on</option>
            {INTAKE_DAYS.map((one) => (
              <option key={one} value={one}>
                whose time it was in the last {one === 1 ? '24 hours' : `${one} days`}
              </option>
            ))}
          </select>
        </label>
        {days > 0 && (
          <label className="flex items-center gap-2">
            at most
            <input
              type="number"
              className="input input-sm w-24"
              min={1}
              max={100_000}
              value={perHour}
              onChange={(event) => onChoose({ ...chosen, perHour: clamped(event.target.valueAsNumber) })}
            />
            an hour
          </label>
        )}
      </div>
      {error && <Problem error={error} />}
      {days > 0 && isRunnable && !data && !error && <Loading what="who qualifies" />}
      {days > 0 && data && <Found found={data} definition={definition} perHour={perHour} />}
    </Part>
  )
} // prettier-ignore

const clamped = (value: number): number =>
  Number.isFinite(value) ? Math.min(100_000, Math.max(1, Math.round(value))) : 1

interface FoundProps {
  found: QualifyingResponse
  definition: Definition
  perHour: number
}

function Found({ found, definition, perHour }: FoundProps): ReactNode {
  const { zone } = useShop()
  const { people, hasMore, shown, turnedAway } = found
  const hours = Math.ceil(people / perHour)
  return (
    <>
      <p>
        {people === 0
          ? 'Nobody qualifies.'
          : `${peopleWords(people)}${hasMore ? ' of the newest' : ''}, the last of them ${hours <= 1 ? 'within the hour' : `after ${plural(hours, 'hour')}`}. Their waits begin when they are let in.`}{' '}
        {turnedAway.length > 0 && (
          <span className="text-secondary">
            Not let in:{' '}
            {turnedAway
              .map(({ code, count }) => `${count} because ${reasonWords(code)}`)
              .join('; ')}
            .
          </span>
        )}
      </p>
      {shown.length > 0 && (
        <div className="max-h-72 overflow-y-auto">
          <table className="table table-sm table-pin-rows" aria-label="Who would be let in">
            <thead>
              <tr>
                <th scope="col">Who</th>
                <th scope="col">It was their time</th>
                <th scope="col">Gets first, if nothing changes</th>
              </tr>
            </thead>
            <tbody>
              {shown.map(
                ({ customerId, name, email, about, occasionAt, first, skipped }, index) => (
                  <tr key={index}>
                    <td>
                      {name ?? email ?? customerId}
                      {about !== null && <span className="text-secondary"> · order {about}</span>}
                    </td>
                    <td>{dateWords(occasionAt, zone)}</td>
                    <td>
                      {first
                        ? `${stepName(definition, first.step)}, ${dateWords(first.at, zone)}`
                        : skipped === null
                          ? 'nothing on their way'
                          : `nothing: ${notSentWords(skipped)}`}
                    </td>
                  </tr>
                ),
              )}
            </tbody>
          </table>
        </div>
      )}
      {people > shown.length && (
        <p className="text-xs text-secondary">and {people - shown.length} more</p>
      )}
    </>
  )
}

const notSentWords = (code: string): string =>
  Object.hasOwn(NOT_SENT_WORDS, code) ? NOT_SENT_WORDS[code as keyof typeof NOT_SENT_WORDS] : code

const reasonWords = (code: string): string =>
  Object.hasOwn(TURNED_AWAY_WORDS, code)
    ? TURNED_AWAY_WORDS[code as keyof typeof TURNED_AWAY_WORDS]
    : code
