import { useQuery, type UseQueryResult } from '@tanstack/react-query'
import { reordersResponse, type ReordersResponse } from '../../../contract/reorders.ts'
import { getJson } from './api.ts'

/** When products are bought again. It changes once a week. */
export const useReorders = (): UseQueryResult<ReordersResponse> =>
  useQuery({
    queryKey: ['reorders'],
    queryFn: ({ signal }) => getJson('/api/reorders', reordersResponse, signal),
    staleTime: 60_000,
  })
