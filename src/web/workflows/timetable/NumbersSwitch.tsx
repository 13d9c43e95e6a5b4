import type { ReactNode } from 'react'

/** Whether the stops say what happened, or what would have happened over the last 90 days. */
export type Counting = 'live' | 'past'

interface Props {
  counting: Counting
  /** Missing while nothing has happened yet that could be counted. */
  onCount: ((counting: Counting) => void) | undefined
  /** How far the last 90 days have been gone through. */
  past: PastState
}

/** `unfinished`: a condition has no value yet, so nobody can say what it would have done. */
export type PastState = 'counting' | 'counted' | 'unfinished'

const PAST_WORDS: Readonly<Record<PastState, string>> = {
  counting: 'counting …',
  counted: 'last 90 days',
  unfinished: 'no numbers yet',
}

/** What the numbers are of, in the corner of the timetable; one switch between the two. */
export function NumbersSwitch({ counting, onCount, past }: Props): ReactNode {
  if (!onCount) {
    return (
      <span
        className="glance-switch"
        title={
          past === 'unfinished'
            ? 'A condition has no value yet'
            : 'What it would have done over the last 90 days'
        }
      >
        {PAST_WORDS[past]}
      </span>
    )
  }
  return (
    <select
      className="glance-switch select select-xs w-full"
      aria-label="Numbers of"
      value={counting}
      onChange={(event) => onCount(event.target.value as Counting)}
    >
      <option value="live">what happened</option>
      <option value="past">{PAST_WORDS[counting === 'past' ? past : 'counted']}</option>
    </select>
  )
}
