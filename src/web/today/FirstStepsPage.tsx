import { useQuery } from '@tanstack/react-query'
import { Circle, CircleCheck } from 'lucide-react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { firstStepsResponse, type FirstSteps } from '../../contract/beginning.ts'
import { standingsResponse, type DomainResponse } from '../../contract/standing.ts'
import { getJson } from '../ui/data/api.ts'
import { useShop } from '../ui/data/shop.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Loading, Problem } from '../ui/states.tsx'

/** What a new shop does until its first message has left, and what of it is done. */
export function FirstStepsPage(): ReactNode {
  const shop = useShop()
  const { data, error, refetch } = useFirstSteps()
  const standing = useQuery({
    queryKey: ['addresses', 'standing'],
    queryFn: () => getJson('/api/senders/standing', standingsResponse),
    staleTime: 60_000,
  })
  return (
    <div className="mx-auto max-w-3xl p-4">
      <PageHeading title="First steps" className="mb-1 text-xl">
        First steps of {shop.name}
      </PageHeading>
      <p className="mb-4 text-secondary">In any order. What is done is ticked by itself.</p>
      {error && <Problem error={error} retry={() => void refetch()} />}
      {!data && !error && <Loading what="the first steps" />}
      {data && (
        <ol className="panel divide-y divide-base-300">
          {stepsOf(data, standing.data?.domains ?? null).map((step) => (
            <Step key={step.title} {...step} />
          ))}
        </ol>
      )}
    </div>
  )
}

/** How far the shop has come. */
export function useFirstSteps() {
  return useQuery({
    queryKey: ['first steps'],
    queryFn: () => getJson('/api/first-steps', firstStepsResponse),
  })
}

interface StepProps {
  title: string
  why: ReactNode
  isDone: boolean
  to: string
  verb: string
}

function stepsOf(done: FirstSteps, domains: DomainResponse[] | null): StepProps[] {
  const own = domains?.[0]
  return [
    {
      title: 'Be believed by mail servers',
      why: own ? standingWords(own) : 'What receivers find when they look up your domain.',
      isDone: own !== undefined && unsettled(own).length === 0,
      to: '/settings#standing',
      verb: 'See what to enter',
    },
    {
      title: 'Look like yourself',
      why: done.hasPostalAddress ? 'A logo and your colours, for every designed message.' : 'A logo and your colours, and the postal address that most countries ask for in marketing.',
      isDone: done.hasLogo && done.hasPostalAddress,
      to: '/settings/brand',
      verb: 'Set up the brand',
    },
    {
      title: 'Have the shop’s events come in',
      why: done.hasKeyOrConnection && !done.hasEvents ? 'The way in is there, and nothing has come in by it yet.' : 'Orders, customers, what becomes of them: by a key for programs, or by a connection that reads what your shop sends already. Orders so far come in from a file, under People → Files.',
      isDone: done.hasEvents,
      to: '/settings/connections',
      verb: 'Add a connection',
    },
    {
      title: 'Begin with a recipe',
      why: 'A whole workflow with its messages and examples, to be changed as you like.',
      isDone: done.hasWorkflow,
      to: '/recipes',
      verb: 'Choose a recipe',
    },
    {
      title: 'Try it, and put it live',
      why: 'A rehearsal shows who would get what; the check before going live says what is missing.',
      isDone: done.isLive,
      to: '/workflows',
      verb: 'Open the workflows',
    },
    {
      title: 'See the first message leave',
      why: 'It stands in the mailbox, and in the ledger with everything that led to it.',
      isDone: done.hasSent,
      to: '/ledger',
      verb: 'Open the ledger',
    },
  ]
} // prettier-ignore

/** What is not as it should be, or could not be looked up. Who signs besides Yomble nobody can look up. */
const unsettled = ({ standings }: DomainResponse) =>
  standings.filter(({ kind, state }) => state === 'missing' || state === 'wrong' || (state === 'unknown' && kind !== 'dkim')) // prettier-ignore

function standingWords(own: DomainResponse): string {
  const open = unsettled(own)
  if (open.length === 0) return `All records of ${own.domain} are in order.`
  if (open.some(({ state }) => state === 'unknown')) return `The records of ${own.domain} could not be looked up.` // prettier-ignore
  const [what, are] = open.length === 1 ? ['One record', 'is'] : [`${open.length} records`, 'are']
  return `${what} of ${own.domain} ${are} missing or wrong; until then much of what you send ends up as spam.`
}

function Step({ title, why, isDone, to, verb }: StepProps): ReactNode {
  const Icon = isDone ? CircleCheck : Circle
  return (
    <li className="flex items-start gap-3 p-4">
      <Icon
        size={20}
        className={`mt-0.5 shrink-0 ${isDone ? 'text-primary' : 'text-secondary'}`}
        aria-hidden="true"
      />
      <div className="min-w-0 flex-1">
        <h2 className="text-base">
          {title}
          <span className="sr-only">{isDone ? ', done' : ', to be done'}</span>
        </h2>
        <p className="text-secondary">{why}</p>
      </div>
      <Link className={`btn btn-sm ${isDone ? 'btn-ghost' : 'btn-primary'}`} to={to}>
        {verb}
      </Link>
    </li>
  )
}
