import { useMutation, useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { useLocation, useNavigate } from 'react-router'
import { toast } from 'sonner'
import {
  moveResponse,
  overdueResponse,
  type WorkflowNumbersResponse,
  type WorkflowResponse,
} from '../../../contract/workflows.ts'
import { sameDocument } from '../../../core/shared/sameDocument.ts'
import { plural } from '../../../core/words/quantities.ts'
import type { Definition } from '../../../core/workflow/definition.ts'
import { getJson, send, sendJson } from '../../ui/data/api.ts'
import { ConfirmButton } from '../../ui/fields/ConfirmButton.tsx'
import { ProblemList } from '../../ui/states.tsx'
import { BulkChanges, useBulkChanges } from './BulkChanges.tsx'
import { LettingIn } from './LettingIn.tsx'
import type { DraftActions } from '../draft/useDraft.ts'
import { useRefresh } from '../page/useRefresh.ts'

interface Props {
  workflow: WorkflowResponse
  definition: Definition
  flush: DraftActions['flush']
  numbers: WorkflowNumbersResponse | undefined
}

/** Going live, pausing, resuming: each says whom it affects. */
export function StateButtons({ workflow, definition, flush, numbers }: Props): ReactNode {
  const { id, state, live } = workflow
  const changed = live !== null && !sameDocument(live, definition)
  const people = plural(numbers?.total.inProgress ?? 0, 'run')
  const older = numbers?.onOlderVersions ?? 0
  if (state === 'retired') {
    return (
      <>
        <BulkChanges id={id} />
        <span className="text-xs text-secondary">
          Out of use for good; a duplicate can go live.
        </span>
      </>
    )
  }
  return (
    <>
      {state !== 'draft' && <BulkChanges id={id} />}
      {state !== 'draft' && <LettingIn id={id} />}
      {state !== 'draft' && <MovePeople id={id} older={older} isPaused={state === 'paused'} />}
      {state === 'live' && <Pause id={id} people={people} />}
      {state === 'paused' && <Resume id={id} people={people} older={older} />}
      <GoLive workflow={workflow} flush={flush} changed={changed} />
    </>
  )
}

interface GoLiveProps extends Pick<Props, 'workflow' | 'flush'> {
  changed: boolean
}

/** Leads to all there is to know before it goes live; what was typed last is saved first. */
function GoLive({ workflow: { id, state }, flush, changed }: GoLiveProps): ReactNode {
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const look = useMutation({
    mutationFn: flush,
    onSuccess: () => navigate(`/workflows/${id}/going-live`, { state: { from: pathname } }),
    onError: (error) => toast.error(error.message, { description: <ProblemList error={error} /> }),
  })
  return (
    <button
      type="button"
      className="btn btn-primary btn-sm"
      disabled={look.isPending || !(changed || state === 'draft')}
      onClick={() => look.mutate()}
    >
      {state === 'draft' ? 'Go live' : 'Publish changes'}
    </button>
  )
}

function Pause({ id, people }: { id: string; people: string }): ReactNode {
  const refresh = useRefresh(id)
  const pause = useMutation({
    mutationFn: () => send('POST', `/api/workflows/${id}/pause`),
    // Also where it was refused: somebody has been quicker, in another window.
    onSettled: refresh,
    onError: (error) => toast.error(error.message),
  })
  return (
    <ConfirmButton
      label="Pause"
      confirm="Pause"
      consequence={`Nobody enters until you resume, and ${people} in progress will be held where they are.`}
      onConfirm={() => pause.mutate()}
    />
  )
}

interface MoveProps {
  id: string
  older: number
  isPaused: boolean
}

/** People on older versions, and the choice to move them to the live one. */
function MovePeople({ id, older, isPaused }: MoveProps): ReactNode {
  const refresh = useRefresh(id)
  const move = useMutation({
    mutationFn: () => sendJson('POST', `/api/workflows/${id}/move-people`, moveResponse, {}),
    onSuccess: async ({ moved, stay, left }) => {
      const rest = stay > 0 ? ` ${plural(stay, 'run')} stay: their step is no longer there.` : ''
      const many = left > 0 ? ` The others, ${plural(left, 'run')}, follow: what is due of them goes by the newest version from now on.` : '' // prettier-ignore
      toast.success(`${plural(moved, 'run')} moved to the newest version.${rest}${many}`)
      await refresh()
    },
    onError: (error) => toast.error(error.message),
  })
  const isMoving = useBulkChanges(id).some(({ kind }) => kind === 'move')
  // Those who are left have their turn; how far that is stands beside it.
  if (older === 0 || isMoving) return null
  const then = isPaused ? 'Nobody goes on before you resume.' : 'Nobody gets a message twice.'
  return (
    <ConfirmButton
      label={`${older} on older versions`}
      confirm="Move them"
      consequence={`${plural(older, 'run')} in progress go on with the version they entered. Moved, they go on with the newest one from the same step, their waits reckoned anew. ${then}`}
      onConfirm={() => move.mutate()}
    />
  )
}

interface ResumeProps {
  id: string
  people: string
  /** How many are on versions before the newest. */
  older: number
}

/** Resuming, with the choice of what becomes of messages that are overdue. */
function Resume({ id, people, older }: ResumeProps): ReactNode {
  const refresh = useRefresh(id)
  const [hours, setHours] = useState<number | null>(null)
  const overdue = useQuery({
    queryKey: ['overdue', id],
    queryFn: () => getJson(`/api/workflows/${id}/overdue`, overdueResponse),
  })
  const resume = useMutation({
    mutationFn: () => send('POST', `/api/workflows/${id}/resume`, { skipLaterThanHours: hours }),
    // Also where it was refused: somebody has been quicker, in another window.
    onSettled: refresh,
    onError: (error) => toast.error(error.message),
  })
  const late = overdue.data?.overdue ?? 0
  const leaving = overdue.data?.leaving ?? 0
  return (
    <>
      {late > 0 && (
        <label className="flex items-center gap-2 text-xs">
          {late} overdue:
          <select
            className="select select-sm w-auto"
            aria-label="What becomes of overdue messages"
            value={hours ?? 'all'}
            onChange={(event) =>
              setHours(event.target.value === 'all' ? null : Number(event.target.value))
            }
          >
            <option value="all">send them all</option>
            <option value="0">leave out all that are late</option>
            <option value="12">leave out those over 12 hours late</option>
            <option value="48">leave out those over 2 days late</option>
          </select>
        </label>
      )}
      <ConfirmButton
        label="Resume"
        confirm="Resume"
        consequence={`People enter again, and ${people} in progress go on${olderWords(older)}. ${lateWords(late, hours)}${leavingWords(leaving)}`}
        onConfirm={() => resume.mutate()}
      />
    </>
  )
}

const olderWords = (older: number): string =>
  older === 0 ? '' : `, ${older} of them on older versions unless you move them first`

const leavingWords = (leaving: number): string =>
  leaving === 0
    ? ''
    : ` ${leaving} ${leaving === 1 ? 'leaves' : 'leave'} by an exclusion and ${leaving === 1 ? 'gets' : 'get'} nothing.`

function lateWords(late: number, hours: number | null): string {
  if (late === 0) return 'No message fell due in the meantime.'
  if (hours === null)
    return `${late} ${late === 1 ? 'gets' : 'get'} a message at once that fell due in the meantime.`
  const limit = hours === 0 ? 'late at all' : `more than ${plural(hours, 'hour')} late`
  return `Of the messages that fell due for ${late}, those that are ${limit} are left out.`
}
