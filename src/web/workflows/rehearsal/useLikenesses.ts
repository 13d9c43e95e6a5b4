import { useQuery, type UseQueryResult } from '@tanstack/react-query'
import { likenessesResponse } from '../../../contract/rehearsal.ts'
import type { z } from 'zod'
import type { Trigger } from '../../../core/workflow/trigger.ts'
import { sendJson } from '../../ui/data/api.ts'

interface Asked {
  /** Nobody is asked about where it is null. */
  customerId: string | null
  workflowId: string
  trigger: Trigger
}

/** When a workflow could have begun for somebody real, with somebody made up who is like them, and what came of it. */
export const useLikenesses = ({
  customerId,
  workflowId,
  trigger,
}: Asked): UseQueryResult<z.infer<typeof likenessesResponse>> =>
  useQuery({
    queryKey: ['rehearsal', 'likenesses', customerId, workflowId, trigger],
    queryFn: () =>
      sendJson('POST', '/api/rehearsal/likenesses', likenessesResponse, { customerId, workflowId, trigger }), // prettier-ignore
    enabled: customerId !== null,
    staleTime: 60_000,
  })
