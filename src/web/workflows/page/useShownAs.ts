import { useCallback } from 'react'
import { useSearchParams } from 'react-router'

/** How a workflow can be shown, and what that is called. */
export const VIEWS = [
  ['timetable', 'Timetable'],
  ['whole', 'At a glance'],
  ['outline', 'Outline'],
] as const

export type View = (typeof VIEWS)[number][0]

/** The timetable, and on a phone, where it would be a few columns at a time, the outline. */
function usual(): View {
  return window.innerWidth < 640 ? 'outline' : 'timetable'
}

/** How the workflow is shown; in the address, so that a link shows the same. */
export function useShownAs(): [View, (view: View) => void] {
  const [search, setSearch] = useSearchParams()
  const asked = search.get('view')
  const view = VIEWS.find(([one]) => one === asked)?.[0] ?? usual()
  const show = useCallback(
    (to: View) => setSearch(to === usual() ? {} : { view: to }, { replace: true }),
    [setSearch],
  )
  return [view, show]
}
