import { useQueryClient, type UseMutationResult } from '@tanstack/react-query'
import type { PersonAct } from '../../core/people/act.ts'
import { send } from '../ui/data/api.ts'
import { useChange } from '../ui/data/useChange.tsx'

/** Does something to a person; what is shown of them is asked for anew. */
export function useAct(id: string, onDone?: () => void): UseMutationResult<void, Error, PersonAct> {
  const queries = useQueryClient()
  return useChange(
    (act: PersonAct) => send('POST', `/api/people/${encodeURIComponent(id)}/acts`, act),
    'person',
    () => {
      void queries.invalidateQueries({ queryKey: ['timeline', id] })
      onDone?.()
    },
  )
}
