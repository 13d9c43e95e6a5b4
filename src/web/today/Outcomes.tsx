import type { ReactNode } from 'react'
import { cohortsResponse, type CohortsResponse } from '../../contract/overview.ts'
import { rateInterval } from '../../core/statistics/rates.ts'
import { peopleWords, plural } from '../../core/words/quantities.ts'
import { Part } from './Part.tsx'

/** What became of codes, of asking for reviews and of reminding. */
export function Outcomes(): ReactNode {
  return (
    <Part title="What came of asking" path="/api/overview/cohorts" schema={cohortsResponse}>
      {(data) => <Facts {...data} />}
    </Part>
  )
}

function Facts({ coupons, reviews, renewals }: CohortsResponse): ReactNode {
  return (
    <dl className="mt-2 flex flex-col gap-3 text-sm">
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
