import type { ReactNode } from 'react'
import type { ExperimentReport } from '../../../contract/experiments.ts'
import { Amount, useShop } from '../data/shop.tsx'
import { causedBy } from './testFigures.ts'

/** What is attributed to the messages, beside what they really brought: what the holdout did not buy. */
export function CausedLine({ report }: { report: ExperimentReport }): ReactNode {
  const { currency } = useShop()
  const caused = causedBy(report)
  if (!caused) return null
  const { attributedMinor, revenue, buyers, people } = caused
  const amount = (minor: number) => <Amount minor={Math.round(minor)} currency={currency} />
  return (
    <p className="mt-3 max-w-[90ch]">
      Attributed to its messages: {amount(attributedMinor)}. Caused by them, by the holdout:{' '}
      {revenue ? (
        <>
          <strong>{amount(revenue.minor)}</strong> ({amount(revenue.low)} to {amount(revenue.high)})
          with {people} people.
        </>
      ) : (
        <>
          too early to tell, {Math.min(buyers.holdout, buyers.others)} of the {buyers.need} buyers
          that it takes on either side.
        </>
      )}
    </p>
  )
}
