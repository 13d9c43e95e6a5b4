import type { ReactNode } from 'react'
import { lotWords } from '../../../core/words/lot.ts'

/** Whether the stops say what happened, or what would have happened over the last 90 days. */
export type Counting = 'live' | 'past'

interface Props {
  counting: Counting
  /** Missing while nothing has happened yet that could be counted. */
  onCount: ((counting: Counting) => void) | undefined
  /** How far the last 90 days have been gone through. */
  past: PastState
  /** Those of the past are reckoned from one in so many people. */
  oneIn?: number
}

/** `unfinished`: a condition has no value yet, so nobody can say what it would have done. */
export type PastState = 'counting' | 'counted' | 'unfinished'

const PAST_WORDS: Readonly<Record<PastState, string>> = {
  counting: 'counting …',
  counted: 'last 90 days',
  unfinished: 'no numbers yet',
}

/** What the numbers are of, in the corner of the timetable; one switch between the two. */
export function NumbersSwitch({ counting, onCount, past, oneIn = 1 }: Props): ReactNode {
  const drawn = lotWords(oneIn)
  const words = (state: PastState) =>
    state === 'counted' && drawn !== '' ? `90 days, 1 in ${oneIn}` : PAST_WORDS[state]
  if (!onCount) {
    return (
      <span
        className="glance-switch"
        title={
          past === 'unfinished'
            ? 'A condition has no value yet'
            : `What it would have done over the last 90 days. ${drawn}`
        }
      >
        {words(past)}
      </span>
    )
  }
  return (
    <select
      className="glance-switch select select-xs w-full"
      aria-label="Numbers of"
      title={counting === 'past' ? drawn : undefined}
      value={counting}
      onChange={(event) => onCount(event.target.value as Counting)}
    >
      <option value="live">what happened</option>
      <option value="past">{words(counting === 'past' ? past : 'counted')}</option>
    </select>
  )
}
