import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Copy, Trash2 } from 'lucide-react'
import type { ReactNode } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { z } from 'zod'
import type { WorkflowResponse } from '../../contract/workflows.ts'
import type { Definition } from '../../core/workflow/definition.ts'
import { send, sendJson } from '../ui/api.ts'
import { ConfirmButton } from '../ui/ConfirmButton.tsx'

/** What can be done with a workflow as a whole: copy it, or delete a draft. */
export function WholeWorkflow({
  workflow,
  definition,
}: {
  workflow: WorkflowResponse
  definition: Definition
}): ReactNode {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const onError = (error: Error) => toast.error(error.message)
  const copy = useMutation({
    mutationFn: () => {
      const name = `Copy of ${definition.name}`.slice(0, 120)
      const body = { definition: { ...definition, name } }
      return sendJson('POST', '/api/workflows', z.object({ id: z.string() }), body)
    },
    onSuccess: ({ id }) => navigate(`/workflows/${id}`),
    onError,
  })
  const remove = useMutation({
    mutationFn: () => send('DELETE', `/api/workflows/${workflow.id}`),
    onSuccess: async () => {
      await navigate('/workflows')
      await queries.invalidateQueries({ queryKey: ['workflows'] })
    },
    onError,
  })
  return (
    <div className="mt-4 flex flex-wrap gap-2">
      <button
        type="button"
        className="btn btn-sm"
        disabled={copy.isPending}
        onClick={() => copy.mutate()}
      >
        <Copy size={14} aria-hidden="true" /> Duplicate
      </button>
      {workflow.liveVersion === null && (
        <ConfirmButton
          className="btn btn-ghost btn-sm"
          label={
            <>
              <Trash2 size={14} aria-hidden="true" /> Delete
            </>
          }
          confirm="Delete the draft"
          consequence="It has never been live, so nobody is in it. It cannot be brought back."
          onConfirm={() => remove.mutate()}
        />
      )}
    </div>
  )
}
