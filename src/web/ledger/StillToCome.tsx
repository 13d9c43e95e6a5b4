import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { runComing, type RunResponse } from '../../contract/activity.ts'
import { getJson } from '../ui/data/api.ts'
import { Time } from '../ui/data/shop.tsx'
import { Problem } from '../ui/states.tsx'

/** What a run will do if nothing changes, and what would stop it or move it. */
export function StillToCome({ run: { id, status } }: { run: RunResponse }): ReactNode {
  const { data, error } = useQuery({
    queryKey: ['run coming', id],
    queryFn: () => getJson(`/api/runs/${id}/coming`, runComing),
    enabled: status === 'inProgress',
    refetchInterval: 10_000,
  })
  if (status !== 'inProgress') return null
  if (error) return <Problem error={error} />
  if (!data) return <p className="mt-3 text-secondary">Looking ahead …</p>
  const { isPaused, next, lines, hindrances } = data
  return (
    <>
      <h2 className="mt-5 mb-2 text-base">Still to come, if nothing changes</h2>
      {isPaused && <p className="mb-2">The workflow is paused: nothing of it before that is over.</p>}
      {next === null && <p className="mb-2">No further message.</p>}
      <ol className="panel" aria-label="Still to come">
        {lines.map(({ at, kind, words }, index) => (
          <li
            key={index}
            className="flex items-start gap-3 border-t border-base-300/60 px-4 py-2 first:border-t-0"
          >
            <span className="w-32 shrink-0 text-secondary">
              <Time at={at} />
            </span>
            <span className={kind === 'sends' ? 'font-medium' : 'text-secondary'}>{words}</span>
          </li>
        ))}
      </ol>
      {hindrances.length > 0 && (
        <>
          <h2 className="mt-5 mb-2 text-base">
            What would stop{next === null ? ' it' : ` “${next.step}”`}, or move it
          </h2>
          <dl className="panel" aria-label="What would stop or move it">
            {hindrances.map(({ would, now }, index) => (
              <div
                key={index}
                className="flex flex-wrap gap-x-4 border-t border-base-300/60 px-4 py-2 first:border-t-0"
              >
                <dt className="min-w-0 grow">{would}</dt>
                <dd className="text-secondary">{now}</dd>
              </div>
            ))}
          </dl>
        </>
      )}
    </>
  )
} // prettier-ignore
