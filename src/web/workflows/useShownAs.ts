import { useCallback } from 'react'
import { useSearchParams } from 'react-router'

/** How a workflow can be shown, and what that is called. */
export const VIEWS = [
  ['timetable', 'Timetable'],
  ['whole', 'At a glance'],
  ['outline', 'Outline'],
] as const

export type View = (typeof VIEWS)[number][0]

/** How the workflow is shown; in the address, so that a link shows the same. */
export function useShownAs(): [View, (view: View) => void] {
  const [search, setSearch] = useSearchParams()
  const asked = search.get('view')
  const view = VIEWS.find(([one]) => one === asked)?.[0] ?? 'timetable'
  const show = useCallback(
    (to: View) => setSearch(to === 'timetable' ? {} : { view: to }, { replace: true }),
    [setSearch],
  )
  return [view, show]
}
