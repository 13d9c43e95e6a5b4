import { useMutation, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { toast } from 'sonner'
import { z } from 'zod'
import { letInResponse } from '../../../contract/goingLive.ts'
import type { WorkflowResponse } from '../../../contract/workflows.ts'
import { peopleWords, plural } from '../../../core/words/quantities.ts'
import { send, sendJson } from '../../ui/data/api.ts'
import { ProblemList } from '../../ui/states.tsx'
import type { DraftActions } from '../draft/useDraft.ts'
import { useRefresh } from '../page/useRefresh.ts'
import type { Choices } from './choices.ts'

interface Props {
  workflow: WorkflowResponse
  flush: DraftActions['flush']
  isChanged: boolean
  /** Findings that are neither mended nor answered; null while the check is looking. */
  open: { errors: number; warnings: number } | null
  choices: Choices
}

/** Switches it on, with what was chosen. */
export function SwitchOn({ workflow, flush, isChanged, open, choices }: Props): ReactNode {
  const { id, state } = workflow
  const { letIn, takeOver, includeToday } = choices
  const refresh = useRefresh(id)
  const queries = useQueryClient()
  const navigate = useNavigate()
  const { state: came } = useLocation() as { state: { from?: string } | null }
  const goLive = useMutation({
    mutationFn: async () => {
      const revision = await flush()
      const done: string[] = []
      if (isChanged) {
        const answer = z.object({ version: z.int() })
        const { version } = await sendJson('POST', `/api/workflows/${id}/go-live`, answer, { revision, includeToday }) // prettier-ignore
        done.push(
          state === 'paused'
            ? `Version ${version} is published; the workflow is still paused.`
            : `Version ${version} is live.`,
        )
      }
      if (takeOver) {
        await send('PUT', `/api/notices/${takeOver}`, { takenBy: id })
        done.push('The shop is told to be silent about it.')
      }
      if (letIn.days > 0) {
        const { people } = await sendJson('POST', `/api/workflows/${id}/let-in`, letInResponse, letIn) // prettier-ignore
        done.push(
          people === 0
            ? 'Nobody qualifies: nobody is let in.'
            : `${peopleWords(people)} ${people === 1 ? 'is' : 'are'} being let in.`,
        )
      }
      return done
    },
    onSuccess: async (done) => {
      toast.success(done.join(' '))
      await navigate(came?.from ?? `/workflows/${id}`)
    },
    onError: (error) => toast.error(error.message, { description: <ProblemList error={error} /> }),
    // Some of it may have been done before another part failed.
    onSettled: async () => {
      await refresh()
      await queries.invalidateQueries({ queryKey: ['notices'] })
      await queries.invalidateQueries({ queryKey: ['intakes', id] })
    },
  })
  const { asked } = workflow.secondPerson ?? { asked: null }
  const needsSecond = workflow.secondPerson !== null && isChanged && (asked === null || asked.isOwn)
  const does = isChanged || takeOver !== null || letIn.days > 0
  const isBlocked = open !== null && open.errors > 0
  const label = isChanged
    ? state === 'draft'
      ? 'Go live'
      : 'Publish changes'
    : otherWords(choices)
  return (
    <div className="panel sticky bottom-0 flex items-center gap-3 px-4 py-3">
      <p className="grow text-secondary">
        {standWords(open, does)} {isChanged && secondWords(workflow.secondPerson)}
      </p>
      {needsSecond && asked === null && <AskSecond id={id} flush={flush} isBlocked={isBlocked} />}
      <button
        type="button"
        className="btn btn-primary"
        disabled={goLive.isPending || !does || isBlocked || needsSecond}
        onClick={() => goLive.mutate()}
      >
        {label}
      </button>
    </div>
  )
}

interface AskProps extends Pick<Props, 'flush'> {
  id: string
  isBlocked: boolean
}

/** Where it takes two: asks the others to look at it, and to put it live. */
function AskSecond({ id, flush, isBlocked }: AskProps): ReactNode {
  const refresh = useRefresh(id)
  const ask = useMutation({
    mutationFn: async () =>
      send('POST', `/api/workflows/${id}/ask-live`, { revision: await flush() }),
    onSuccess: () => toast.success('Everybody who may put it live has a mail.'),
    onError: (error) => toast.error(error.message, { description: <ProblemList error={error} /> }),
    onSettled: refresh,
  })
  return (
    <button
      type="button"
      className="btn btn-primary"
      disabled={ask.isPending || isBlocked}
      onClick={() => ask.mutate()}
    >
      Ask a second person
    </button>
  )
}

/** What there is to do with one that is live as it is. */
const otherWords = ({ takeOver, letIn }: Choices): string =>
  takeOver !== null && letIn.days === 0 ? 'Take it over' : 'Let them in'

/** Where it takes two: how far they are. */
function secondWords(second: WorkflowResponse['secondPerson']): string {
  if (second === null) return ''
  if (second.asked === null) return 'In this shop it takes two: one asks, another puts it live.'
  return second.asked.isOwn
    ? 'You have asked; somebody else puts it live.'
    : `${second.asked.name} has asked for it.`
}

function standWords(open: Props['open'], does: boolean): string {
  if (open === null) return 'The check is still looking.'
  const { errors, warnings } = open
  if (errors > 0) return `${plural(errors, 'finding')} must be mended first.`
  if (!does) return 'Nothing has changed since it went live.'
  return warnings > 0 ? `${plural(warnings, 'finding')} neither mended nor answered.` : ''
}
