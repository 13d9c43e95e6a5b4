import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { useNavigate } from 'react-router'
import { z } from 'zod'
import { liveWorkflow } from '../../contract/workflows.ts'
import { getJson } from '../ui/data/api.ts'
import { Problem } from '../ui/states.tsx'

/** Leads to what a workflow made of somebody, and to what would have had to differ. */
export function WhyNot({ personId }: { personId: string }): ReactNode {
  const go = useNavigate()
  const [isOpen, setOpen] = useState(false)
  const live = useQuery({
    queryKey: ['workflows', 'live'],
    queryFn: () => getJson('/api/live-workflows', z.array(liveWorkflow)),
    enabled: isOpen,
  })
  if (!isOpen) {
    return (
      <button type="button" className="btn btn-sm mt-3 ml-2" onClick={() => setOpen(true)}>
        Why, or why not …
      </button>
    )
  }
  if (live.error) return <Problem error={live.error} />
  return (
    <label className="mt-2 flex flex-col gap-1 border-t border-base-300/60 pt-3">
      <span className="text-xs text-secondary">
        What a workflow made of them, and what would have had to differ
      </span>
      <select
        className="select w-full select-sm"
        value=""
        onChange={({ target: { value: id } }) =>
          void go(`/workflows/${id}/rehearsal?person=${encodeURIComponent(personId)}`)
        }
      >
        <option value="">{live.data ? 'Which workflow?' : 'Looking …'}</option>
        {live.data?.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  )
}
