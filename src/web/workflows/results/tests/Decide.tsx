import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { mayBuild } from '../../../../contract/roles.ts'
import type { ExperimentReport } from '../../../../contract/experiments.ts'
import { saveDraftResponse } from '../../../../contract/workflows.ts'
import type { Judgement } from '../../../../core/experiments/judge.ts'
import { sendJson } from '../../../ui/data/api.ts'
import { AreaField, ChoiceField } from '../../../ui/fields/fields.tsx'
import { Problem } from '../../../ui/states.tsx'
import { useSession } from '../../../ui/data/shop.tsx'

interface Props {
  report: ExperimentReport
  workflowId: string
  revision: number
  judgement: Judgement
}

/** One step from the figures to a draft in which everybody takes the same arm; the decision is kept. */
export function Decide({ report, workflowId, revision, judgement }: Props): ReactNode {
  const { verdict } = judgement
  const best = verdict.kind === 'decided' ? verdict.arm : (report.arms[0]?.key ?? '')
  const [isOpen, setOpen] = useState(false)
  const [arm, setArm] = useState(best)
  const [note, setNote] = useState('')
  const navigate = useNavigate()
  const queries = useQueryClient()
  const { user } = useSession()
  const decide = useMutation({
    mutationFn: () =>
      sendJson('POST', `/api/workflows/${workflowId}/experiments/${report.step}/decision`, saveDraftResponse, { arm, note, revision }), // prettier-ignore
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['workflow', workflowId] })
      toast('A draft is ready in which everybody takes it. Publish it when you have looked at it.')
      await navigate(`/workflows/${workflowId}`)
    },
  })
  if (!mayBuild(user.role)) return null
  const choices = Object.fromEntries(
    report.arms.map(({ key, name, holdout }) => [
      key,
      `${name || 'Unnamed arm'}${holdout ? ' (gets nothing)' : ''}`,
    ]),
  )
  if (!isOpen) {
    const isTold = verdict.kind === 'decided'
    return (
      <button
        type="button"
        className={`btn btn-sm mt-3 ${isTold ? 'btn-primary' : ''}`}
        onClick={() => setOpen(true)}
      >
        {isTold ? 'Decide' : 'Decide all the same'}
      </button>
    )
  }
  return (
    <form
      className="mt-3 max-w-xl border-t border-base-300 pt-3"
      onSubmit={(event) => {
        event.preventDefault()
        decide.mutate()
      }}
    >
      <ChoiceField
        label="From now on everybody takes"
        value={arm}
        choices={choices}
        onChange={setArm}
      />
      <AreaField label="Why, for colleagues" value={note} onChange={setNote} rows={3} />
      <p className="my-2 text-xs text-secondary">
        A draft is made without the test, for you to look at and publish. Whoever is in the test now
        goes on with their arm. The decision is kept here with today’s figures.
      </p>
      {decide.error && <Problem error={decide.error} />}
      <button type="submit" className="btn btn-primary btn-sm" disabled={decide.isPending}>
        Make the draft
      </button>{' '}
      <button type="button" className="btn btn-sm" onClick={() => setOpen(false)}>
        Cancel
      </button>
    </form>
  )
}
