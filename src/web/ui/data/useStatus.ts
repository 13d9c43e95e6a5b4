import { useQuery } from '@tanstack/react-query'
import { statusResponse } from '../../../contract/status.ts'
import { getJson } from './api.ts'

/** How things stand, looked at anew every half minute. */
export const useStatus = () =>
  useQuery({
    queryKey: ['status'],
    queryFn: () => getJson('/api/status', statusResponse),
    refetchInterval: 30_000,
  })
