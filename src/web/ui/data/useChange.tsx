import { useMutation, useQueryClient, type UseMutationResult } from '@tanstack/react-query'
import { toast } from 'sonner'
import { ProblemList } from '../states.tsx'

/**
 * Changes something on the server, asks anew for what that may have changed (the key of its query), and
 * says what was in the way.
 */
export function useChange<Input = void, Answer = void>(
  change: (input: Input) => Promise<Answer>,
  changes: string,
  onDone?: (input: Input) => void,
): UseMutationResult<Answer, Error, Input> {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: change,
    onSuccess: (_answer, input) => onDone?.(input),
    onError: (error) => toast.error(error.message, { description: <ProblemList error={error} /> }),
    // It may have been changed in part, or the answer may have been lost.
    onSettled: () => queries.invalidateQueries({ queryKey: [changes] }),
  })
}
