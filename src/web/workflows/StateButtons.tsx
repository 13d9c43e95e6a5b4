import { useMutation, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { toast } from 'sonner'
import { z } from 'zod'
import type { WorkflowNumbersResponse, WorkflowResponse } from '../../contract/workflows.ts'
import { plural } from '../../core/words/quantities.ts'
import { send, sendJson } from '../ui/api.ts'
import { ConfirmButton } from '../ui/ConfirmButton.tsx'
import { ProblemList } from '../ui/states.tsx'
import type { Draft } from './useDraft.ts'

interface Props {
  workflow: WorkflowResponse
  draft: Draft
  numbers: WorkflowNumbersResponse | undefined
}

/** Going live, pausing, resuming: each says whom it affects. */
export function StateButtons({ workflow, draft, numbers }: Props): ReactNode {
  const { id, state, live } = workflow
  const refresh = useRefresh(id)
  const goLive = useMutation({
    mutationFn: async () => {
      const revision = await draft.flush()
      const answer = z.object({ version: z.int() })
      return sendJson('POST', `/api/workflows/${id}/go-live`, answer, { revision })
    },
    onSuccess: async ({ version }) => {
      toast.success(`Version ${version} is live.`)
      await refresh()
    },
    onError: (error) => toast.error(error.message, { description: <ProblemList error={error} /> }),
  })
  const shift = useMutation({
    mutationFn: (to: 'pause' | 'resume') => send('POST', `/api/workflows/${id}/${to}`),
    onSuccess: refresh,
    onError: (error) => toast.error(error.message),
  })
  const changed = live !== null && !sameDocument(live, draft.definition)
  const people = plural(numbers?.total.inProgress ?? 0, 'run')
  return (
    <>
      {changed && (
        <>
          <span className="chip border-warning text-warning">unpublished changes</span>
          <button type="button" className="btn btn-ghost btn-sm" onClick={() => draft.change(live)}>
            Back to the live version
          </button>
        </>
      )}
      {state === 'live' && (
        <ConfirmButton
          label="Pause"
          confirm="Pause"
          consequence={`Nobody enters until you resume, and ${people} in progress will be held where they are.`}
          onConfirm={() => shift.mutate('pause')}
        />
      )}
      {state === 'paused' && (
        <ConfirmButton
          label="Resume"
          confirm="Resume"
          consequence={`People enter again, and ${people} in progress go on. What fell due meanwhile is sent at once, if it still should be.`}
          onConfirm={() => shift.mutate('resume')}
        />
      )}
      <button
        type="button"
        className="btn btn-primary btn-sm"
        disabled={goLive.isPending || (!changed && state === 'live')}
        onClick={() => goLive.mutate()}
      >
        {state === 'live' ? 'Publish changes' : 'Go live'}
      </button>
    </>
  )
}

/** True when two documents say the same, in whatever order their keys stand. */
function sameDocument(a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b
  const keys = new Set([...Object.keys(a), ...Object.keys(b)])
  return [...keys].every((key) => sameDocument((a as never)[key], (b as never)[key]))
}

function useRefresh(id: string): () => Promise<void> {
  const queries = useQueryClient()
  return async () => {
    await queries.invalidateQueries({ queryKey: ['workflow', id] })
    await queries.invalidateQueries({ queryKey: ['workflows'] })
    await queries.invalidateQueries({ queryKey: ['numbers', id] })
  }
}
