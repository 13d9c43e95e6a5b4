import { useQuery } from '@tanstack/react-query'
import { beforeLiveResponse } from '../../../contract/goingLive.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson } from '../../ui/data/api.ts'

/** Who would have come in over the last 90 days, and what the same people got beside it; by the draft as it is saved. */
export function useBeforeLive(id: string, saved: Definition | null) {
  return useQuery({
    queryKey: ['before-live', id, saved],
    queryFn: ({ signal }) =>
      getJson(`/api/workflows/${id}/before-live`, beforeLiveResponse, signal),
    enabled: saved !== null,
    staleTime: 60_000,
  })
}
