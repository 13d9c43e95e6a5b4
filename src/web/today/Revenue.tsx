import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { z } from 'zod'
import { workflowListItem } from '../../contract/workflows.ts'
import { plural } from '../../core/words/quantities.ts'
import { Amount, useShop } from '../ui/data/shop.tsx'
import { Part } from './Part.tsx'

const SHOWN = 10

/** What the workflows brought: the very figures of the list. */
export function Revenue(): ReactNode {
  const { currency } = useShop()
  return (
    <Part
      title="Revenue by workflow, last 30 days"
      note="Orders within seven days after a message, for the last one before each."
      path="/api/workflows?days=30"
      schema={z.array(workflowListItem)}
    >
      {(all) => {
        const earning = all.filter(({ earned }) => earned.orders > 0).toSorted((a, b) => b.earned.revenueMinor - a.earned.revenueMinor) // prettier-ignore
        const most = earning[0]?.earned.revenueMinor ?? 0
        if (earning.length === 0)
          return <p className="text-secondary">No order has followed a message in this time.</p>
        return (
          <table className="w-full text-sm">
            <thead className="sr-only">
              <tr>
                <th>Workflow</th>
                <th>Orders</th>
                <th>Revenue</th>
              </tr>
            </thead>
            <tbody>
              {earning.slice(0, SHOWN).map(({ id, name, earned }) => (
                <tr key={id}>
                  <th
                    scope="row"
                    className="w-40 max-w-40 truncate py-1 pr-2 text-left font-normal"
                    title={name}
                  >
                    <Link to={`/workflows/${id}/results`} className="hover:underline">
                      {name}
                    </Link>
                  </th>
                  <td title={plural(earned.orders, 'order')}>
                    <span
                      className="block h-3 rounded-sm bg-primary"
                      style={{ width: `${Math.max(1, (100 * earned.revenueMinor) / most)}%` }}
                    />
                    <span className="sr-only">{plural(earned.orders, 'order')}</span>
                  </td>
                  <td className="w-24 pl-2 text-right">
                    <Amount minor={earned.revenueMinor} currency={currency} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )
      }}
    </Part>
  )
}
