import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { z } from 'zod'
import { workflowName } from '../../../contract/workflows.ts'
import { getJson } from './api.ts'

/** The names of the shop's workflows by their ids. */
export function useWorkflowNames(): Map<string, string> {
  const { data } = useQuery({
    queryKey: ['workflows', 'names'],
    queryFn: () => getJson('/api/workflow-names', z.array(workflowName)),
    staleTime: 30_000,
  })
  return useMemo(() => new Map(data?.map(({ id, name }) => [id, name])), [data])
}
