import type { ReactNode } from 'react'
import type { CohortResults, ResultsResponse } from '../../../contract/results.ts'
import { rateInterval, rateOf } from '../../../core/statistics/rates.ts'
import { plural } from '../../../core/words/quantities.ts'
import { Amount, useShop } from '../../ui/data/shop.tsx'
import { percentWords, rangeWords } from '../../ui/figures/percent.ts'
import { TickField } from '../../ui/fields/TickField.tsx'

interface Props {
  results: ResultsResponse
  shown: CohortResults
  isWithOpen: boolean
  onWithOpen: (isWithOpen: boolean) => void
}

/** Who is counted, and what came of them all. */
export function Summary({ results, shown, isWithOpen, onWithOpen }: Props): ReactNode {
  const { currency } = useShop()
  const { windowDays, over, open } = results
  const count = { did: shown.ordered, of: shown.entered }
  const [rate, interval] = [rateOf(count), rateInterval(count)]
  return (
    <div className="mb-3 flex flex-wrap items-center gap-x-6 gap-y-2">
      <p>
        <strong>{plural(shown.entered, 'way')}</strong> through it began in this time
        {isWithOpen ? '' : ` and had ${plural(windowDays, 'day')}`}.{' '}
        {rate !== null && interval && (
          <>
            On <strong>{shown.ordered}</strong> of them an order followed a message (
            {percentWords(rate)}, most likely {rangeWords(interval)}):{' '}
            {plural(shown.orders, 'order')},{' '}
            <Amount minor={shown.revenueMinor} currency={currency} /> in all.
          </>
        )}
      </p>
      {open.entered > 0 && (
        <TickField
          className="text-xs"
          checked={isWithOpen}
          onChange={(checked) => onWithOpen(checked)}
        >
          with the {open.entered} that are still within their {plural(windowDays, 'day')}: more may
          come of them
        </TickField>
      )}
      {over.entered === 0 && open.entered > 0 && (
        <p className="text-xs text-secondary">Nobody has had all of the time yet.</p>
      )}
    </div>
  )
}
