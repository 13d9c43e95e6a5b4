import { useQuery } from '@tanstack/react-query'
import { CircleCheck, TriangleAlert } from 'lucide-react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { z } from 'zod'
import { attentionItem } from '../../contract/attention.ts'
import type { WorkflowListItem } from '../../contract/workflows.ts'
import { plural } from '../../core/words/quantities.ts'
import { getJson } from '../ui/data/api.ts'
import { workflowList } from '../ui/data/workflowList.ts'
import { useStatus } from '../ui/data/useStatus.ts'
import { Loading, Problem } from '../ui/states.tsx'

/** What a person has to see to, each with the way there; or that there is nothing. */
export function OutOfOrder(): ReactNode {
  const attention = useQuery({
    queryKey: ['attention'],
    queryFn: () => getJson('/api/attention', z.array(attentionItem)),
    refetchInterval: 15_000,
  })
  const workflows = useQuery({ ...workflowList(30), select: ({ data }) => data })
  const status = useStatus()
  const error = attention.error ?? workflows.error ?? status.error
  if (error)
    return (
      <Problem
        error={error}
        retry={() => void Promise.all([attention.refetch(), workflows.refetch(), status.refetch()])}
      />
    )
  if (!attention.data || !workflows.data || !status.data)
    return <Loading what="what is out of order" />
  const waiting = attention.data.length
  // What failed stands in the line of what waits for somebody.
  const alerts = status.data.alerts.filter(({ code }) => code !== 'failed')
  const broken = workflows.data.filter(
    ({ state, findings }) => state === 'live' && findings.errors > 0,
  )
  const paused = workflows.data.filter(
    ({ state, numbers }) => state === 'paused' && numbers.inProgress > 0,
  )
  return (
    <section className="panel mb-4 p-4" aria-label="Out of order">
      {waiting + broken.length + paused.length + alerts.length === 0 ? (
        <p className="flex items-center gap-2">
          <CircleCheck size={18} className="text-success" aria-hidden="true" /> Nothing is out of
          order.
        </p>
      ) : (
        <ul className="flex flex-col gap-1">
          {waiting > 0 && (
            <Line to="/ledger?show=attention">
              {plural(waiting, 'message')} could not be sent, or may not have arrived
            </Line>
          )}
          {alerts.map(({ code, about, says, to }) => (
            <Line key={`${code} ${about}`} to={to}>
              {says}
            </Line>
          ))}
          {broken.map((one) => (
            <Line key={one.id} to={`/workflows/${one.id}`}>
              {one.name}: {plural(one.findings.errors, 'thing')} to fix, though it is live
            </Line>
          ))}
          {paused.map((one) => (
            <Line key={one.id} to={`/workflows/${one.id}`}>
              {one.name} is paused: {heldWords(one)}
            </Line>
          ))}
        </ul>
      )}
    </section>
  )
}

const heldWords = ({ numbers }: WorkflowListItem): string =>
  `${plural(numbers.inProgress, 'run')} ${numbers.inProgress === 1 ? 'is' : 'are'} held`

function Line({ to, children }: { to: string; children: ReactNode }): ReactNode {
  return (
    <li className="flex items-start gap-2">
      <TriangleAlert size={16} className="mt-0.5 shrink-0 text-accent" aria-hidden="true" />
      <Link to={to} className="hover:underline">
        {children}
      </Link>
    </li>
  )
}
