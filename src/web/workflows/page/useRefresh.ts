import { useQueryClient } from '@tanstack/react-query'

/** Has everything fetched again that a change of a workflow's state may have changed. */
export function useRefresh(id: string): () => Promise<void> {
  const queries = useQueryClient()
  return async () => {
    await queries.invalidateQueries({ queryKey: ['workflow', id] })
    await queries.invalidateQueries({ queryKey: ['workflows'] })
    await queries.invalidateQueries({ queryKey: ['intakes', id] })
    await queries.invalidateQueries({ queryKey: ['bulk changes', id] })
    await queries.invalidateQueries({ queryKey: ['numbers', id] })
    await queries.invalidateQueries({ queryKey: ['overdue', id] })
  }
}
