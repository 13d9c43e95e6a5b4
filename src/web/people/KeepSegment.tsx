import { useQueryClient } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { z } from 'zod'
import type { Segment } from '../../contract/people.ts'
import type { Condition } from '../../core/conditions/condition.ts'
import { send, sendJson } from '../ui/data/api.ts'
import { useChange } from '../ui/data/useChange.tsx'
import { ConfirmButton } from '../ui/fields/ConfirmButton.tsx'

interface Props {
  chosen: Segment | null
  condition: Condition | null
  isEdited: boolean
  onKept: (id: string | null) => void
}

/** Keeps a condition under a name, changes the segment it was begun in, or forgets that. */
export function KeepSegment({ chosen, condition, isEdited, onKept }: Props): ReactNode {
  const queries = useQueryClient()
  const [name, setName] = useState('')
  const done = async (id: string | null) => {
    await queries.invalidateQueries({ queryKey: ['segments'] })
    setName('')
    onKept(id)
  }
  const add = useChange(
    () => sendJson('POST', '/api/segments', z.object({ id: z.string() }), { name, condition }),
    'segments',
  )
  const save = useChange(
    (to: { name: string; condition: Condition }) => send('PUT', `/api/segments/${chosen?.id}`, to),
    'segments',
    () => void done(chosen?.id ?? null),
  )
  const remove = useChange(() => send('DELETE', `/api/segments/${chosen?.id}`), 'segments', () => void done(null)) // prettier-ignore
  return (
    <div className="flex flex-col gap-2 border-t border-base-300 pt-3">
      {chosen && isEdited && condition && (
        <button type="button" className="btn btn-primary btn-sm" onClick={() => save.mutate({ name: chosen.name, condition })}>
          {`Save “${chosen.name}”`}
        </button>
      )}
      {condition && (isEdited || !chosen) && (
        <form
          className="flex gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            add.mutate(undefined, { onSuccess: ({ id }) => void done(id) })
          }}
        >
          <input
            aria-label="Name of the segment"
            className="input input-sm min-w-0 flex-1"
            placeholder="Name of the segment"
            maxLength={80}
            value={name}
            onChange={({ target }) => setName(target.value)}
          />
          <button type="submit" className="btn btn-sm" disabled={name.trim() === ''}>
            Keep
          </button>
        </form>
      )}
      {chosen && (
        <ConfirmButton
          label="Forget this segment"
          className="btn btn-ghost btn-sm self-start"
          consequence={`“${chosen.name}” is gone. Nobody in it is changed.`}
          confirm="Forget it"
          onConfirm={() => remove.mutate()}
        />
      )}
    </div>
  )
} // prettier-ignore
