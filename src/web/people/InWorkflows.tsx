import { useQuery, useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { runComing } from '../../contract/activity.ts'
import type { PersonResponse } from '../../contract/people.ts'
import { getJson, send } from '../ui/data/api.ts'
import { Time } from '../ui/data/shop.tsx'
import { useChange } from '../ui/data/useChange.tsx'
import { ConfirmButton } from '../ui/fields/ConfirmButton.tsx'
import { PutIn } from './PutIn.tsx'
import { WhyNot } from './WhyNot.tsx'

type Run = PersonResponse['runs'][number]

interface Props {
  person: PersonResponse
  mayEdit: boolean
}

/** The workflows somebody is in, where they stand there, and what will come if nothing changes. */
export function InWorkflows({ person, mayEdit }: Props): ReactNode {
  return (
    <section className="panel p-3" aria-label="In workflows">
      <h2 className="text-base">In workflows now</h2>
      {person.runs.length === 0 && <p className="mt-1 text-secondary">In none.</p>}
      <ul>
        {person.runs.map((run) => (
          <li key={run.id} className="mt-2 border-t border-base-300/60 pt-2">
            <OneRun run={run} mayEdit={mayEdit} />
          </li>
        ))}
      </ul>
      {mayEdit && <PutIn person={person} />}
      {mayEdit && <WhyNot personId={person.id} />}
    </section>
  )
}

function OneRun({ run, mayEdit }: { run: Run; mayEdit: boolean }): ReactNode {
  const queries = useQueryClient()
  const act = useChange(
    (did: 'takeOut' | 'endWait') => send('POST', `/api/runs/${run.id}/acts`, { did }),
    'person',
    () => void queries.invalidateQueries({ queryKey: ['timeline'] }),
  )
  return (
    <>
      <p>
        <Link className="font-medium hover:underline" to={`/runs/${run.id}`}>
          {run.workflow.name}
        </Link>
        {run.about !== null && <span className="font-mono text-xs text-secondary"> {run.about}</span>}
      </p>
      <p className="text-xs text-secondary">
        {run.step ?? 'On the way.'}
        {run.dueAt !== null && (
          <>
            {' '}
            They go on <Time at={run.dueAt} />.
          </>
        )}
      </p>
      <ToCome runId={run.id} />
      {mayEdit && (
        <p className="mt-1 flex flex-wrap gap-2">
          {run.waits && (
            <ConfirmButton
              label="End the wait now"
              className="btn btn-xs"
              consequence="They go on at once, as though the time of this wait had come. What comes next may be a message."
              confirm="End the wait"
              onConfirm={() => act.mutate('endWait')}
            />
          )}
          <ConfirmButton
            label="Take them out"
            className="btn btn-xs"
            consequence={`Nothing more of “${run.workflow.name}” comes to them from this entry.`}
            confirm="Take them out"
            onConfirm={() => act.mutate('takeOut')}
          />
        </p>
      )}
    </>
  )
} // prettier-ignore

/** The messages still to come, if nothing changes. */
function ToCome({ runId }: { runId: number }): ReactNode {
  const { data } = useQuery({
    queryKey: ['run coming', String(runId)],
    queryFn: () => getJson(`/api/runs/${runId}/coming`, runComing),
  })
  if (!data) return null
  const messages = data.lines.filter(({ kind }) => kind === 'sends' || kind === 'skipped')
  return (
    <ol className="mt-1 text-xs" aria-label="Still to come">
      {data.isPaused && <li>The workflow is paused: nothing comes before that is over.</li>}
      {messages.map(({ at, kind, words }, index) => (
        <li key={index} className={kind === 'sends' ? '' : 'text-secondary'}>
          <Time at={at} /> {words}
        </li>
      ))}
      {messages.length === 0 && <li className="text-secondary">No message is to come.</li>}
    </ol>
  )
}
