import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { toast } from 'sonner'
import { z } from 'zod'
import type { PersonResponse } from '../../contract/people.ts'
import { enterResponse, liveWorkflow } from '../../contract/workflows.ts'
import { subjectOf } from '../../core/workflow/trigger.ts'
import { getJson, sendJson } from '../ui/data/api.ts'
import { useChange } from '../ui/data/useChange.tsx'

/** Puts this person, or an order of theirs, into a live workflow. Its filter and exclusions hold as for all. */
export function PutIn({ person }: { person: PersonResponse }): ReactNode {
  const queries = useQueryClient()
  const [isOpen, setOpen] = useState(false)
  const [id, setId] = useState('')
  const [order, setOrder] = useState('')
  const live = useQuery({
    queryKey: ['workflows', 'live'],
    queryFn: () => getJson('/api/live-workflows', z.array(liveWorkflow)),
    enabled: isOpen,
  })
  const takes = live.data?.filter(({ definition }) => ['order', 'customer'].includes(subjectOf(definition.trigger))) ?? []
  const chosen = takes.find((one) => one.id === id)
  const isByOrder = chosen !== undefined && subjectOf(chosen.definition.trigger) === 'order'
  const name = isByOrder ? order || person.lastOrders[0]?.number : person.id
  const enter = useChange(
    () => sendJson('POST', `/api/workflows/${id}/enter`, enterResponse, { names: [name], override: false }),
    'person',
  )
  if (!isOpen) {
    return (
      <button type="button" className="btn btn-sm mt-3" onClick={() => setOpen(true)}>
        Put them into a workflow …
      </button>
    )
  }
  return (
    <form
      className="mt-3 flex flex-col gap-2 border-t border-base-300/60 pt-3"
      onSubmit={(event) => {
        event.preventDefault()
        enter.mutate(undefined, {
          onSuccess: ({ entered }) => {
            if (entered > 0) toast.success('They are in it.')
            else toast.error('They were turned away; the time line says why.')
            setOpen(false)
            void queries.invalidateQueries({ queryKey: ['timeline', person.id] })
          },
        })
      }}
    >
      <select className="select select-sm w-full" aria-label="Which workflow" value={id} onChange={({ target }) => setId(target.value)}>
        <option value="">Which workflow?</option>
        {takes.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
      </select>
      {isByOrder && person.lastOrders.length > 0 && (
        <select className="select select-sm w-full" aria-label="With which order" value={name} onChange={({ target }) => setOrder(target.value)}>
          {person.lastOrders.map(({ number }) => (
            <option key={number} value={number}>
              {`with order ${number}`}
            </option>
          ))}
        </select>
      )}
      {isByOrder && person.lastOrders.length === 0 && <p className="text-xs text-secondary">It is about an order, and they have none.</p>}
      <span className="flex gap-2">
        <button type="submit" className="btn btn-primary btn-sm" disabled={!chosen || name === undefined || enter.isPending}>
          Put them in
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={() => setOpen(false)}>
          Leave it
        </button>
      </span>
    </form>
  )
} // prettier-ignore
