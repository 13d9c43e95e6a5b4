import { useQuery } from '@tanstack/react-query'
import {
  CircleAlert,
  CircleDot,
  DoorOpen,
  Flag,
  Hourglass,
  Mail,
  SkipForward,
  Split,
} from 'lucide-react'
import type { ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { mayBuild } from '../../contract/roles.ts'
import { runResponse, type RunResponse } from '../../contract/activity.ts'
import { getJson, queryOf } from '../ui/data/api.ts'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Time, useSession } from '../ui/data/shop.tsx'
import { Loading, Problem } from '../ui/states.tsx'
import { StillToCome } from './StillToCome.tsx'

/** One person's way through a workflow, decision by decision. */
export function RunPage(): ReactNode {
  const { id = '' } = useParams()
  const { role } = useSession().user
  const run = useQuery({
    queryKey: ['run', id],
    queryFn: () => getJson(`/api/runs/${id}`, runResponse),
    refetchInterval: 5000,
  })
  if (run.error) return <Problem error={run.error} retry={() => void run.refetch()} />
  if (!run.data) return <Loading what="the run" />
  const { customer, workflow, order } = run.data
  const who = customer.name || customer.email || customer.id
  return (
    <div className="mx-auto max-w-3xl p-4">
      <p className="mb-1 text-xs text-secondary">
        <Link
          to={`/ledger${order ? `?search=${encodeURIComponent(order.number)}` : ''}`}
          className="hover:underline"
        >
          Ledger
        </Link>
      </p>
      <PageHeading title={`${who} in ${workflow.name}`}>
        {who} in{' '}
        <Link to={`/workflows/${workflow.id}`} className="hover:underline">
          {workflow.name}
        </Link>
      </PageHeading>
      <Facts run={run.data} />
      {mayBuild(role) && (
        <p className="mb-3">
          <Link className="link" to={rehearsalOf(run.data)}>
            Rehearse them again
          </Link>{' '}
          <span className="text-secondary">
            to see why, and what would have to differ for each message
          </span>
        </p>
      )}
      <ol className="panel" aria-label="What was decided">
        {run.data.lines.map((line) => (
          <li
            key={line.id}
            className="flex items-start gap-3 border-t border-base-300/60 px-4 py-2.5 first:border-t-0"
          >
            <LineIcon kind={line.kind} />
            <span className="w-32 shrink-0 pt-px">
              <Time at={line.at} />
            </span>
            <span className={NOT_SENT.has(line.kind) ? 'font-medium' : ''}>
              {line.words}
              {line.mailId !== null && (
                <Link className="link ml-2 text-xs" to={`/mailbox/${line.mailId}`}>
                  show the mail
                </Link>
              )}
            </span>
          </li>
        ))}
      </ol>
      <StillToCome run={run.data} />
    </div>
  )
}

/** Somebody made up who is like them at that time, in the version that they went through. */
const rehearsalOf = ({ workflow, customer, enteredAt }: RunResponse): string =>
  `/workflows/${workflow.id}/rehearsal${queryOf({ version: String(workflow.version), person: customer.id, at: String(enteredAt) })}`

function Facts({ run }: { run: RunResponse }): ReactNode {
  const { customer, order, workflow, enteredAt } = run
  return (
    <dl className="my-3 flex flex-wrap gap-x-8 gap-y-2 [&_dt]:text-xs [&_dt]:text-secondary">
      <div>
        <dt>Address</dt>
        <dd>{customer.email ?? 'not known'}</dd>
      </div>
      {order && (
        <div>
          <dt>Order</dt>
          <dd>
            <span className="font-mono">{order.number}</span>, {order.total}, {order.status}
          </dd>
        </div>
      )}
      <div>
        <dt>Entered</dt>
        <dd>
          <Time at={enteredAt} />
        </dd>
      </div>
      <div>
        <dt>Version</dt>
        <dd className="font-mono">v{workflow.version}</dd>
      </div>
      <div>
        <dt>Now</dt>
        <dd>{stateWords(run)}</dd>
      </div>
    </dl>
  )
}

function stateWords({ status, outcome, dueAt }: RunResponse): ReactNode {
  if (status === 'ended') return OUTCOMES[outcome ?? 'completed']
  if (dueAt === null) return 'in progress'
  return (
    <>
      waiting until <Time at={dueAt} />
    </>
  )
}

const OUTCOMES: Readonly<Record<NonNullable<RunResponse['outcome']>, string>> = {
  completed: 'finished',
  left: 'left by an exclusion',
  retired: 'ended when the workflow was retired',
  takenOut: 'taken out by hand',
}

const NOT_SENT = new Set(['left', 'skipped', 'failed', 'unsure', 'stuck'])

const ICONS = {
  entered: CircleDot,
  tookBranch: Split,
  waits: Hourglass,
  sends: Mail,
  sent: Mail,
  skipped: SkipForward,
  left: DoorOpen,
  ended: Flag,
} as const

function LineIcon({ kind }: { kind: string }): ReactNode {
  const Icon = kind in ICONS ? ICONS[kind as keyof typeof ICONS] : CircleAlert
  return (
    <Icon
      size={15}
      className={`mt-0.5 shrink-0 ${NOT_SENT.has(kind) ? 'text-accent' : 'text-secondary'}`}
      aria-hidden="true"
    />
  )
}
