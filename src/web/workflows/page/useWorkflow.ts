import { useQuery } from '@tanstack/react-query'
import { workflowNumbersResponse, workflowResponse } from '../../../contract/workflows.ts'
import { getJson } from '../../ui/data/api.ts'

/** A workflow as the server has it. Fetched when asked for: its draft belongs to whoever edits it. */
export function useWorkflow(id: string) {
  return useQuery({
    queryKey: ['workflow', id],
    queryFn: () => getJson(`/api/workflows/${id}`, workflowResponse),
    staleTime: Infinity,
    gcTime: 0,
  })
}

/** What has happened in a workflow, step by step. */
export function useNumbers(id: string) {
  return useQuery({
    queryKey: ['numbers', id],
    queryFn: () => getJson(`/api/workflows/${id}/numbers`, workflowNumbersResponse),
    refetchInterval: 10_000,
  })
}
