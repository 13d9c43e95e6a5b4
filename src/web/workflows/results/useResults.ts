import { keepPreviousData, useQuery, type UseQueryResult } from '@tanstack/react-query'
import { resultsResponse, type ResultsResponse } from '../../../contract/results.ts'
import { getJson, queryOf } from '../../ui/data/api.ts'

/** Whose results are shown, as the server is asked. */
export type ResultsAsked = Record<string, string | number | undefined>

/** What came of those who entered a workflow in a time. */
export function useResults(
  workflowId: string,
  asked: ResultsAsked,
): UseQueryResult<ResultsResponse> {
  return useQuery({
    queryKey: ['results', workflowId, asked],
    queryFn: ({ signal }) =>
      getJson(`/api/workflows/${workflowId}/results${queryOf(asked)}`, resultsResponse, signal),
    placeholderData: keepPreviousData,
  })
}
