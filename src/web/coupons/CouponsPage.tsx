import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { couponsResponse, WITHIN_DAYS, type CouponsResponse } from '../../contract/coupons.ts'
import { differenceInterval } from '../../core/statistics/rates.ts'
import { peopleWords } from '../../core/words/quantities.ts'
import { percentWords, rangeWords } from '../ui/figures/percent.ts'
import { getJson } from '../ui/data/api.ts'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Amount, Time, useShop } from '../ui/data/shop.tsx'
import { Empty, Loading, Problem } from '../ui/states.tsx'
import { DataTable, type DataColumn, type Sort } from '../ui/table/DataTable.tsx'

/** What became of the codes that workflows issued, and who seems to wait for them. */
export function CouponsPage(): ReactNode {
  const coupons = useQuery({
    queryKey: ['coupons'],
    queryFn: () => getJson('/api/coupons', couponsResponse),
    refetchInterval: 10_000,
  })
  if (coupons.error) return <Problem error={coupons.error} retry={() => void coupons.refetch()} />
  if (!coupons.data) return <Loading what="coupons" />
  return (
    <div className="mx-auto max-w-6xl p-4">
      <PageHeading title="Coupons" className="mb-3 text-xl" />
      <Steps steps={coupons.data.steps} />
      <Anyway steps={coupons.data.steps} />
      <WaitingPeople people={coupons.data.waiting} />
      <p className="mt-3 text-xs text-secondary">
        The shop fetches the codes it is to take at{' '}
        <code className="font-mono">{location.origin}/v1/coupons</code>; an order that names one
        redeems it.
      </p>
    </div>
  )
}

type StepRow = CouponsResponse['steps'][number]

const STEP_COLUMNS: readonly DataColumn<StepRow>[] = [
  { id: 'coupon', head: 'Coupon', sortBy: ({ name }) => name, cell: ({ name }) => name },
  {
    id: 'workflow',
    head: 'Workflow',
    sortBy: ({ workflow }) => workflow,
    cell: ({ workflowId, workflow }) => (
      <Link className="hover:underline" to={`/workflows/${workflowId}`}>
        {workflow}
      </Link>
    ),
  },
  figure('issued', 'Issued', ({ issued }) => issued),
  {
    ...figure('redeemed', 'Redeemed', ({ redeemed }: StepRow) => redeemed),
    cell: ({ redeemed, issued }) => `${redeemed} of ${issued}`,
  },
  {
    id: 'within',
    head: `in ${WITHIN_DAYS.join(' · ')} days`,
    isFigure: true,
    cell: ({ within }) => within.join(' · '),
  },
  {
    ...figure('first', 'First orders', ({ firstOrders }: StepRow) => firstOrders),
    cell: ({ firstOrders, redeemed }) => (
      <span title="Redeemed with an order of somebody who had never ordered before">
        {redeemed === 0 ? '–' : `${firstOrders} of ${redeemed}`}
      </span>
    ),
  },
  figure('expired', 'Expired', ({ expired }) => expired),
  figure('open', 'Still open', ({ issued, redeemed, expired }) => issued - redeemed - expired),
  {
    ...figure('revenue', 'Orders came to', ({ revenueMinor }: StepRow) => revenueMinor),
    cell: ({ revenueMinor }) => <Earned minor={revenueMinor} />,
  },
  {
    ...figure('given', 'Given away', ({ givenAwayMinor }: StepRow) => givenAwayMinor),
    cell: ({ givenAwayMinor }) => <Earned minor={givenAwayMinor} />,
  },
]

function figure(id: string, head: string, valueOf: (row: StepRow) => number): DataColumn<StepRow> {
  return { id, head, isFigure: true, startsDown: true, sortBy: valueOf, cell: valueOf }
}

function Earned({ minor }: { minor: number }): ReactNode {
  return <Amount minor={minor} currency={useShop().currency} />
}

function Steps({ steps }: { steps: CouponsResponse['steps'] }): ReactNode {
  const [sort, setSort] = useState<Sort | null>(null)
  if (steps.length === 0) {
    return (
      <div className="panel mb-4">
        <Empty title="No code has been issued yet." />
      </div>
    )
  }
  return (
    <section className="panel mb-4 overflow-x-auto" aria-label="Codes by step">
      <DataTable<StepRow>
        rows={steps}
        columns={STEP_COLUMNS}
        idOf={({ workflowId, step }) => `${workflowId} ${step}`}
        sort={sort}
        onSort={setSort}
      />
    </section>
  )
}

/** Would they have ordered without it? Who was held out of the message says so. */
function Anyway({ steps }: { steps: CouponsResponse['steps'] }): ReactNode {
  const told = steps.filter(({ anyway: { got, heldOut } }) => got.people > 0 && heldOut.people > 0)
  return (
    <section className="panel mb-4 p-4" aria-label="Would they have ordered anyway?">
      <h2 className="text-base">Would they have ordered anyway?</h2>
      {told.length === 0 ? (
        <p className="text-secondary">
          That is known once some people are held out: of all marketing in{' '}
          <Link className="link" to="/settings">
            Settings
          </Link>
          . Their orders of the 30 days after a code would have come are counted against those of
          the people who got one.
        </p>
      ) : (
        <ul className="mt-1 flex flex-col gap-2">
          {told.map(({ workflowId, step, name, anyway: { got, heldOut } }) => (
            <li key={`${workflowId} ${step}`}>
              <span className="font-medium">{name}</span>: of {peopleWords(got.people)} who got a
              code {shareWords(got)} ordered within 30 days, with it or without; of the{' '}
              {heldOut.people} who were held out {shareWords(heldOut)}.{' '}
              {differenceWords(got, heldOut)}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

type Ordered = StepRow['anyway']['got']

/** Fewer than so many say nothing of a rate. */
const LEAST = 20

const shareWords = ({ people, ordered }: Ordered): string =>
  people < LEAST ? String(ordered) : percentWords(ordered / people)

/** Whether the two differ by more than chance would make them. */
function differenceWords(got: Ordered, heldOut: Ordered): string {
  const countOf = ({ people, ordered }: Ordered) => ({ did: ordered, of: people })
  const interval = differenceInterval(countOf(got), countOf(heldOut))
  if (!interval || heldOut.people < LEAST) return 'Too few are held out to say more.'
  if (interval.low > 0) return `The code, with its message, moves ${rangeWords(interval)} of them.`
  if (interval.high < 0) return 'Fewer than without it.'
  return `No difference can be told yet: anything from ${signed(interval.low)} to ${signed(interval.high)} points is possible.`
}

const signed = (share: number): string =>
  `${share < 0 ? '−' : '+'}${Math.abs(share * 100).toFixed(1)}`

type Waiting = CouponsResponse['waiting'][number]

const WAITING_COLUMNS: readonly DataColumn<Waiting>[] = [
  { id: 'who', head: 'Who', cell: ({ name }) => name },
  {
    id: 'used',
    head: 'Codes used',
    isFigure: true,
    cell: ({ issued, redeemed }) => `${redeemed} of ${issued}`,
  },
  { id: 'last', head: 'Last order', cell: ({ lastAt }) => <Time at={lastAt} /> },
]

function WaitingPeople({ people }: { people: CouponsResponse['waiting'] }): ReactNode {
  return (
    <section className="panel p-4" aria-label="People who seem to wait for a code">
      <h2 className="text-base">People who seem to wait for a code</h2>
      <p className="mb-2 text-secondary">
        In the last year they used at least two, and since the first of them ordered with codes
        only.
      </p>
      {people.length === 0 ? (
        <p>Nobody.</p>
      ) : (
        <DataTable<Waiting>
          rows={people}
          columns={WAITING_COLUMNS}
          idOf={({ customerId }) => customerId}
        />
      )}
    </section>
  )
}
