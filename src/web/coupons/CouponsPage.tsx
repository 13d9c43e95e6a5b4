import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { couponsResponse, type CouponsResponse } from '../../contract/coupons.ts'
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
    <div className="mx-auto max-w-5xl p-4">
      <PageHeading title="Coupons" className="mb-3 text-xl" />
      <Steps steps={coupons.data.steps} />
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
  figure('expired', 'Expired', ({ expired }) => expired),
  figure('open', 'Still open', ({ issued, redeemed, expired }) => issued - redeemed - expired),
  {
    ...figure('revenue', 'Orders came to', ({ revenueMinor }: StepRow) => revenueMinor),
    cell: ({ revenueMinor }) => <Earned minor={revenueMinor} />,
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
