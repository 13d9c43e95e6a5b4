import { useQuery } from '@tanstack/react-query'
import { workflowNumbersResponse, workflowResponse } from '../../../contract/workflows.ts'
import { getJson } from '../../ui/data/api.ts'

/**
 * A workflow as the server has it. Fetched once each time a page is opened, and when asked for: its draft belongs to
 * whoever edits it. What another page has left behind is not shown, for it was edited there.
 */
export function useWorkflow(id: string) {
  const { data, isFetchedAfterMount, ...rest } = useQuery({
    queryKey: ['workflow', id],
    queryFn: () => getJson(`/api/workflows/${id}`, workflowResponse),
    staleTime: Infinity,
    refetchOnMount: 'always',
    gcTime: 0,
  })
  return { ...rest, data: isFetchedAfterMount ? data : undefined }
}

/** What has happened in a workflow, step by step. */
export function useNumbers(id: string) {
  return useQuery({
    queryKey: ['numbers', id],
    queryFn: () => getJson(`/api/workflows/${id}/numbers`, workflowNumbersResponse),
    refetchInterval: 10_000,
  })
}
