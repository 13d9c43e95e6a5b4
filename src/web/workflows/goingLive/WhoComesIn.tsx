import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { passedOverResponse, type WorkflowState } from '../../../contract/workflows.ts'
import { capitalized, hourWords, peopleWords } from '../../../core/words/quantities.ts'
import { lotWords } from '../../../core/words/lot.ts'
import { triggerWords } from '../../../core/words/triggers.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson } from '../../ui/data/api.ts'
import { useShop } from '../../ui/data/shop.tsx'
import { Problem } from '../../ui/states.tsx'
import { useWords } from '../../ui/data/words.tsx'
import { Part } from './Part.tsx'
import { useBeforeLive } from './useBeforeLive.ts'

interface Props {
  id: string
  state: WorkflowState
  definition: Definition
  /** The draft as the server has it; null while it is being saved. */
  saved: Definition | null
  includeToday: boolean
  onIncludeToday: (includeToday: boolean) => void
}

/** Who comes in from now on, about how many a week, and whom that passes over. */
export function WhoComesIn(props: Props): ReactNode {
  const { id, state, definition, saved, includeToday, onIncludeToday } = props
  const words = useWords()
  const { data, error } = useBeforeLive(id, saved)
  const { trigger } = definition
  const passed = useQuery({
    queryKey: ['passed-over', id, saved],
    queryFn: ({ signal }) =>
      getJson(`/api/workflows/${id}/passed-over`, passedOverResponse, signal),
    enabled: saved !== null && trigger.kind === 'date' && state !== 'paused',
  })
  return (
    <Part title="Who comes in">
      <p>From then on: {capitalized(triggerWords(trigger, words))}.</p>
      {error && <Problem error={error} />}
      <p className="text-secondary">
        {trigger.kind === 'hand'
          ? 'Nobody by itself: people are put in by hand.'
          : data === undefined
            ? 'Going through the last 90 days …'
            : data.past
              ? pastWords(data.past)
              : 'How many that is can be said once its conditions are finished.'}
      </p>
      {passed.data && passed.data.people > 0 && passed.data.firstAt !== null && (
        <PassedOver
          people={passed.data.people}
          firstAt={passed.data.firstAt}
          includeToday={includeToday}
          onChange={onIncludeToday}
        />
      )}
    </Part>
  )
}

/** "About 21 a week: 268 times for 241 people in the last 90 days." */
function pastWords({ people, entries, perWeek, oneIn }: { people: number; entries: number; perWeek: number; oneIn: number }): string {
  if (entries === 0) return 'Nobody would have come in over the last 90 days.'
  const often = entries === people ? peopleWords(people) : `${entries.toLocaleString('en-IE')} times, ${people.toLocaleString('en-IE')} people`
  const week = perWeek >= 1 ? `About ${Math.round(perWeek)} a week` : 'Less than one a week'
  return `${week}, by the last 90 days (${often}). ${lotWords(oneIn)}`.trim()
} // prettier-ignore

interface PassedOverProps {
  people: number
  firstAt: number
  includeToday: boolean
  onChange: (includeToday: boolean) => void
}

/** Those whose moment was earlier today, and the choice to let them in all the same. */
function PassedOver({ people, firstAt, includeToday, onChange }: PassedOverProps): ReactNode {
  const { zone } = useShop()
  return (
    <label className="flex flex-wrap items-center gap-2">
      {people === 1 ? 'For one person' : `For ${people} people`} it was time at{' '}
      {hourWords(firstAt, zone)} today:
      <select
        className="select select-sm w-auto"
        aria-label="What becomes of those whose moment was earlier today"
        value={includeToday ? 'in' : 'over'}
        onChange={(event) => onChange(event.target.value === 'in')}
      >
        <option value="over">pass over them</option>
        <option value="in">let them in as well</option>
      </select>
    </label>
  )
}
