import { useMutation, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { toast } from 'sonner'
import type { WorkflowListItem } from '../../../contract/workflows.ts'
import { plural } from '../../../core/words/quantities.ts'
import { send } from '../../ui/data/api.ts'
import { ConfirmButton } from '../../ui/fields/ConfirmButton.tsx'

interface Props {
  /** The workflows that are ticked. */
  workflows: readonly WorkflowListItem[]
  onDone: () => void
}

/** What can be done with several workflows at once. */
export function BulkBar({ workflows, onDone }: Props): ReactNode {
  const live = workflows.filter(({ state }) => state === 'live')
  const queries = useQueryClient()
  const pause = useMutation({
    mutationFn: () => Promise.all(live.map(({ id }) => send('POST', `/api/workflows/${id}/pause`))),
    onSuccess: () => {
      toast.success(`Paused ${plural(live.length, 'workflow')}.`)
      onDone()
    },
    onError: (error) => toast.error(error.message),
    onSettled: () => queries.invalidateQueries({ queryKey: ['workflows'] }),
  })
  if (workflows.length === 0) return null
  const runs = live.reduce((sum, { numbers }) => sum + numbers.inProgress, 0)
  return (
    <div
      role="group"
      aria-label="Chosen workflows"
      className="panel mb-3 flex items-center gap-3 px-3 py-1.5"
    >
      <span>{plural(workflows.length, 'workflow')} chosen</span>
      {live.length < workflows.length && (
        <span className="text-xs text-secondary">
          {workflows.length - live.length} of them not live
        </span>
      )}
      <span className="ml-auto flex gap-2">
        <a
          className="btn btn-sm"
          href={`/api/archive?workflows=${workflows.map(({ id }) => id).join(',')}`}
          download
        >
          As one file
        </a>
        <ConfirmButton
          label={`Pause ${plural(live.length, 'live workflow')}`}
          confirm="Pause them"
          disabled={live.length === 0 || pause.isPending}
          consequence={`Nobody enters until each is resumed, and ${plural(runs, 'run')} in progress will be held where they are.`}
          onConfirm={() => pause.mutate()}
        />
        <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
          Choose none
        </button>
      </span>
    </div>
  )
}
