import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, type ReactNode } from 'react'
import { bulkChangesResponse, type BulkChange } from '../../../contract/workflows.ts'
import { getJson } from '../../ui/data/api.ts'
import { useRefresh } from '../page/useRefresh.ts'

const POLL_MS = 2000

/** What is being done to everybody in the workflow, as long as it goes on; then its numbers are asked for anew. */
export function BulkChanges({ id }: { id: string }): ReactNode {
  const refresh = useRefresh(id)
  const changes = useBulkChanges(id)
  const open = changes.length
  const before = useRef(open)
  useEffect(() => {
    if (open < before.current) void refresh()
    before.current = open
  }, [open, refresh])
  return changes.map((change) => <Progress key={change.id} change={change} />)
}

/** What is open of it. */
export function useBulkChanges(id: string): readonly BulkChange[] {
  const { data } = useQuery({
    queryKey: ['bulk changes', id],
    queryFn: () => getJson(`/api/workflows/${id}/bulk-changes`, bulkChangesResponse),
    refetchInterval: ({ state }) => ((state.data ?? []).length > 0 ? POLL_MS : false),
  })
  return data ?? NONE
}
const NONE: readonly BulkChange[] = []

function Progress({ change }: { change: BulkChange }): ReactNode {
  const { people, done, stay } = change
  const had = Math.min(people, done + stay)
  return (
    <span role="status" className="chip border-primary">
      {wordsOf(change)}: {had.toLocaleString('en')} of {people.toLocaleString('en')}
    </span>
  )
}

function wordsOf({ kind, toVersion }: BulkChange): string {
  switch (kind) {
    case 'release':
      return 'going on after the pause'
    case 'end':
      return 'ending runs'
    case 'move':
      return `moving runs to version ${toVersion}`
  }
}
