import type { ReactNode } from 'react'

/** Whether the stops say what happened, or what would have happened over the last 90 days. */
export type Counting = 'live' | 'past'

interface Props {
  counting: Counting
  /** Missing while nothing has happened yet that could be counted. */
  onCount: ((counting: Counting) => void) | undefined
  isReady: boolean
}

/** What the numbers are of, in the corner of the timetable; one switch between the two. */
export function NumbersSwitch({ counting, onCount, isReady }: Props): ReactNode {
  if (!onCount) {
    return (
      <span title="What it would have done over the last 90 days">
        {isReady ? 'last 90 days' : 'counting …'}
      </span>
    )
  }
  return (
    <select
      className="select select-xs w-full"
      aria-label="Numbers of"
      value={counting}
      onChange={(event) => onCount(event.target.value as Counting)}
    >
      <option value="live">what happened</option>
      <option value="past">last 90 days</option>
    </select>
  )
}
