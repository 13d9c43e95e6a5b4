import { useMutation, useQueryClient, type UseMutationResult } from '@tanstack/react-query'
import { toast } from 'sonner'

/** Something done at the counter: what it changes is looked at anew, and what went wrong is said. */
export function useAtCounter<Input>(
  act: (input: Input) => Promise<unknown>,
  said?: (input: Input) => string,
): UseMutationResult<unknown, Error, Input> {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: act,
    onSuccess: async (_answer, input) => {
      if (said) toast.success(said(input))
      await queries.invalidateQueries({
        predicate: ({ queryKey }) => ['counter', 'clock'].includes(String(queryKey[0])),
      })
    },
    onError: (error) => toast.error(error.message),
  })
}
