import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Copy, Trash2 } from 'lucide-react'
import type { ReactNode } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { z } from 'zod'
import { retireResponse, type WorkflowResponse } from '../../../contract/workflows.ts'
import { plural } from '../../../core/words/quantities.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { send, sendJson } from '../../ui/data/api.ts'
import { ConfirmButton } from '../../ui/fields/ConfirmButton.tsx'
import { DuplicateForProduct } from './DuplicateForProduct.tsx'
import { madeAfter } from '../newSteps.ts'
import { PutIn } from './PutIn.tsx'
import { useRefresh } from './useRefresh.ts'
import { useNumbers } from './useWorkflow.ts'

/** What can be done with a workflow as a whole: copy it, delete a draft, retire it, put people in. */
export function WholeWorkflow({
  workflow,
  definition,
}: {
  workflow: WorkflowResponse
  definition: Definition
}): ReactNode {
  const { data: numbers } = useNumbers(workflow.id)
  const navigate = useNavigate()
  const queries = useQueryClient()
  const onError = (error: Error) => toast.error(error.message)
  const copy = useMutation({
    mutationFn: (document: Definition) =>
      sendJson('POST', '/api/workflows', z.object({ id: z.string() }), {
        definition: madeAfter(document),
      }),
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
  const isOn = workflow.state === 'live' || workflow.state === 'paused'
  return (
    <>
      <div className="mt-4 flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-sm"
          disabled={copy.isPending}
          onClick={() =>
            copy.mutate({ ...definition, name: `Copy of ${definition.name}`.slice(0, 120) })
          }
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
        {isOn && (
          <Retire
            id={workflow.id}
            inProgress={numbers?.total.inProgress ?? 0}
            isPaused={workflow.state === 'paused'}
          />
        )}
      </div>
      <DuplicateForProduct definition={definition} onCopy={(document) => copy.mutate(document)} />
      {workflow.state === 'live' && workflow.live && (
        <PutIn id={workflow.id} trigger={workflow.live.trigger} />
      )}
    </>
  )
}

interface RetireProps {
  id: string
  inProgress: number
  isPaused: boolean
}

/** Takes a workflow out of use for good; runs in progress finish, or end now. */
function Retire({ id, inProgress, isPaused }: RetireProps): ReactNode {
  const refresh = useRefresh(id)
  const retire = useMutation({
    mutationFn: (endRuns: boolean) =>
      sendJson('POST', `/api/workflows/${id}/retire`, retireResponse, { endRuns }),
    onSettled: refresh,
    onError: (error) => toast.error(error.message),
  })
  const people = plural(inProgress, 'run')
  const held = isPaused ? ' What fell due in the pause is sent at once.' : ''
  return (
    <>
      <ConfirmButton
        className="btn btn-ghost btn-sm"
        label="Retire"
        confirm="Retire it"
        consequence={`Nobody enters any more, for good. ${people} in progress go on to their end.${held}`}
        onConfirm={() => retire.mutate(false)}
      />
      {inProgress > 0 && (
        <ConfirmButton
          className="btn btn-ghost btn-sm"
          label="Retire and end all runs"
          confirm={`End ${people}`}
          consequence={`Nobody enters any more, for good, and ${people} in progress end now: none of them gets another message.`}
          onConfirm={() => retire.mutate(true)}
        />
      )}
    </>
  )
}
