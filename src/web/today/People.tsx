import type { ReactNode } from 'react'
import { cohortsResponse, type CohortsResponse } from '../../contract/overview.ts'
import { rateInterval } from '../../core/statistics/rates.ts'
import { MONTHS, peopleWords, plural } from '../../core/words/quantities.ts'
import { Part } from './Part.tsx'

/** Second orders by the month of the first; what became of codes, of asking for reviews and of reminding. */
export function People(): ReactNode {
  return (
    <div className="mt-4">
      <Part
        title="Second orders, by the month of the first"
        note="How many of those who ordered first in a month have ordered again, by the end of the months after it. The last figure of a line is of a month that is not over."
        path="/api/overview/cohorts"
        schema={cohortsResponse}
      >
        {(data) => (
          <>
            <CohortTable {...data} />
            <Also {...data} />
          </>
        )}
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

function Also({ coupons, reviews, renewals }: CohortsResponse): ReactNode {
  return (
    <dl className="mt-4 grid gap-4 text-sm md:grid-cols-3">
      <Fact term="Coupons, last 90 days">
        {coupons.issued === 0 ? (
          'No code was issued.'
        ) : (
          <>
            {shareWords(coupons.redeemed, coupons.issued)} of {plural(coupons.issued, 'code')} were
            used
            {coupons.redeemed > 0 &&
              `: ${coupons.withinDays.map(({ days, redeemed }) => `${redeemed} within ${plural(days, 'day')}`).join(', ')}`}
            .
          </>
        )}
      </Fact>
      <Fact term="Reviews asked for">
        {reviews.asked === 0 ? (
          'Nobody was asked long enough ago.'
        ) : (
          <>
            {shareWords(reviews.left, reviews.asked)} of {peopleWords(reviews.asked)} asked left one
            within 30 days.
          </>
        )}
      </Fact>
      <Fact term="Renewals reminded of">
        {renewals.over === 0 ? (
          'None has come due yet.'
        ) : (
          <>
            {shareWords(renewals.kept, renewals.over)} of {plural(renewals.over, 'payment')} that
            have come due were made; {renewals.reminded - renewals.over}{' '}
            {renewals.reminded - renewals.over === 1 ? 'is' : 'are'} still ahead.
          </>
        )}
      </Fact>
    </dl>
  )
}

function Fact({ term, children }: { term: string; children: ReactNode }): ReactNode {
  return (
    <div>
      <dt className="text-xs text-secondary">{term}</dt>
      <dd>{children}</dd>
    </div>
  )
}

/** "214, 31 % (27–35 %)"; of few, only how many. */
function shareWords(did: number, of: number): string {
  const interval = rateInterval({ did, of })
  if (of < 20 || !interval) return String(did)
  const round = (share: number) => Math.round(share * 100)
  return `${did}, ${round(did / of)} % (${round(interval.low)}–${round(interval.high)} %),`
}

/** "April 2026" */
function monthWords(month: string): string {
  const [year = '', number = ''] = month.split('-')
  return `${MONTHS[Number(number) - 1] ?? ''} ${year}`
}
