import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { couponsResponse, type CouponsResponse } from '../../contract/coupons.ts'
import { getJson } from '../ui/data/api.ts'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Amount, Time, useShop } from '../ui/data/shop.tsx'
import { Empty, Loading, Problem } from '../ui/states.tsx'

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
      <Waiting people={coupons.data.waiting} />
      <p className="mt-3 text-xs text-secondary">
        The shop fetches the codes it is to take at{' '}
        <code className="font-mono">{location.origin}/v1/coupons</code>; an order that names one
        redeems it.
      </p>
    </div>
  )
}

function Steps({ steps }: { steps: CouponsResponse['steps'] }): ReactNode {
  const { currency } = useShop()
  if (steps.length === 0) {
    return (
      <div className="panel mb-4">
        <Empty title="No code has been issued yet." />
      </div>
    )
  }
  return (
    <section className="panel mb-4 overflow-x-auto" aria-label="Codes by step">
      <table className="table table-sm">
        <thead>
          <tr>
            <th scope="col">Coupon</th>
            <th scope="col">Workflow</th>
            <th scope="col" className="text-right">
              Issued
            </th>
            <th scope="col" className="text-right">
              Redeemed
            </th>
            <th scope="col" className="text-right">
              Expired
            </th>
            <th scope="col" className="text-right">
              Still open
            </th>
            <th scope="col" className="text-right">
              Orders came to
            </th>
          </tr>
        </thead>
        <tbody>
          {steps.map(
            ({ workflowId, workflow, step, name, issued, redeemed, expired, revenueMinor }) => (
              <tr key={`${workflowId} ${step}`}>
                <td>{name}</td>
                <td>
                  <Link className="hover:underline" to={`/workflows/${workflowId}`}>
                    {workflow}
                  </Link>
                </td>
                <td className="text-right font-mono">{issued}</td>
                <td className="text-right font-mono">
                  {redeemed} of {issued}
                </td>
                <td className="text-right font-mono">{expired}</td>
                <td className="text-right font-mono">{issued - redeemed - expired}</td>
                <td className="text-right">
                  <Amount minor={revenueMinor} currency={currency} />
                </td>
              </tr>
            ),
          )}
        </tbody>
      </table>
    </section>
  )
}

function Waiting({ people }: { people: CouponsResponse['waiting'] }): ReactNode {
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
        <table className="table table-sm">
          <thead>
            <tr>
              <th scope="col">Who</th>
              <th scope="col" className="text-right">
                Codes used
              </th>
              <th scope="col">Last order</th>
            </tr>
          </thead>
          <tbody>
            {people.map(({ customerId, name, issued, redeemed, lastAt }) => (
              <tr key={customerId}>
                <td>{name}</td>
                <td className="text-right font-mono">
                  {redeemed} of {issued}
                </td>
                <td>
                  <Time at={lastAt} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}
