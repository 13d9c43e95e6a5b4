import { useMutation, useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import { z } from 'zod'
import { letInResponse } from '../../../contract/goingLive.ts'
import { segment } from '../../../contract/people.ts'
import { peopleWords } from '../../../core/words/quantities.ts'
import { getJson, sendJson } from '../../ui/data/api.ts'
import { ProblemList } from '../../ui/states.tsx'
import { useRefresh } from './useRefresh.ts'

/** Puts everybody in a segment into a live workflow, so many an hour. */
export function PutSegmentIn({ id }: { id: string }): ReactNode {
  const [chosen, setChosen] = useState('')
  const [perHour, setPerHour] = useState(200)
  const refresh = useRefresh(id)
  const { data } = useQuery({
    queryKey: ['segments'],
    queryFn: () => getJson('/api/segments', z.array(segment)),
  })
  const put = useMutation({
    mutationFn: () =>
      sendJson('POST', `/api/workflows/${id}/put-in`, letInResponse, { segment: chosen, perHour }),
    onSuccess: async ({ people }) => {
      setChosen('')
      toast.success(`${peopleWords(people)} in line. Filter, entry rule and exclusions hold for each.`)
      await refresh()
    },
    onError: (error) => toast.error(error.message, { description: <ProblemList error={error} /> }),
  })
  if (!data || data.length === 0) return null
  return (
    <div className="mt-3 flex flex-wrap items-center gap-2">
      <label className="flex items-center gap-2">
        Or everybody in
        <select aria-label="Everybody in" className="select select-sm w-44" value={chosen} onChange={(event) => setChosen(event.target.value)}>
          <option value="">a segment …</option>
          {data.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2">
        at most
        <input
          type="number"
          className="input input-sm w-20"
          min={1}
          max={100_000}
          value={perHour}
          onChange={(event) => setPerHour(Math.min(100_000, Math.max(1, Math.round(event.target.valueAsNumber) || 1)))}
        />
        an hour
      </label>
      <button type="button" className="btn btn-sm" disabled={chosen === '' || put.isPending} onClick={() => put.mutate()}>
        Put them in
      </button>
    </div>
  )
} // prettier-ignore
