import type { ReactNode } from 'react'
import { cohortsResponse, type CohortsResponse } from '../../contract/overview.ts'
import { MONTHS } from '../../core/words/quantities.ts'
import { Part } from './Part.tsx'

/** Second orders by the month of the first. */
export function People(): ReactNode {
  return (
    <div className="mt-4">
      <Part
        title="Second orders, by the month of the first"
        note="How many of those who ordered first in a month have ordered again, by the end of the months after it. The last figure of a line is of a month that is not over."
        path="/api/overview/cohorts"
        schema={cohortsResponse}
      >
        {(data) => <CohortTable {...data} />}
      </Part>
    </div>
  )
}

function CohortTable({ cohorts }: Pick<CohortsResponse, 'cohorts'>): ReactNode {
  if (cohorts.length === 0) return <p className="text-secondary">Nobody has ordered yet.</p>
  const width = Math.max(...cohorts.map(({ again }) => again.length))
  return (
    <div className="overflow-x-auto">
      <table className="table table-xs">
        <thead>
          <tr>
            <th>First order</th>
            <th className="text-right">People</th>
            {Array.from({ length: width }, (_, after) => (
              <th key={after} className="text-right">
                {after === 0 ? 'same month' : `+${after}`}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {cohorts.map(({ month, people, again }) => (
            <tr key={month}>
              <th scope="row" className="font-normal whitespace-nowrap">
                {monthWords(month)}
              </th>
              <td className="text-right font-mono text-xs">{people}</td>
              {again.map((count, after) => (
                <td
                  key={after}
                  className={`text-right font-mono text-xs ${after === again.length - 1 ? 'text-secondary italic' : ''}`}
                  style={{
                    background: `color-mix(in oklab, var(--color-primary) ${people === 0 ? 0 : Math.round((45 * count) / people)}%, transparent)`,
                  }}
                  title={`${count} of ${people}`}
                >
                  {people < 20
                    ? `${count} of ${people}`
                    : `${Math.round((100 * count) / people)} %`}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** "April 2026" */
function monthWords(month: string): string {
  const [year = '', number = ''] = month.split('-')
  return `${MONTHS[Number(number) - 1] ?? ''} ${year}`
}
