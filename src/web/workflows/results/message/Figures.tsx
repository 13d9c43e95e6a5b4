import type { ReactNode } from 'react'
import type { PeopleMeasure } from '../../../../contract/results.ts'
import { MEASURES } from '../../../../core/words/measures.ts'
import { Amount, useShop } from '../../../ui/data/shop.tsx'
import { Rate } from '../../../ui/figures/Rate.tsx'
import { NotSent } from '../columns.tsx'
import type { Figure } from '../People.tsx'
import type { MessageRow } from '../shownResults.ts'

interface Props {
  row: MessageRow
  onPeople: (figure: Figure) => void
  exclusionWords: (key: string) => string
}

type Rated = Extract<PeopleMeasure, 'sent' | 'delivered' | 'opened' | 'clicked' | 'ordered' | 'replied' | 'unsubscribed' | 'complained'> // prettier-ignore

/** Each rate with what it is of. */
const RATES: readonly (readonly [Rated, 'reached' | 'sent' | 'delivered'])[] = [
  ['sent', 'reached'],
  ['delivered', 'sent'],
  ['opened', 'delivered'],
  ['clicked', 'delivered'],
  ['ordered', 'delivered'],
  ['replied', 'delivered'],
  ['unsubscribed', 'delivered'],
  ['complained', 'delivered'],
]

/** What came of one message, each figure with the way to its people. */
export function Figures({ row, onPeople, exclusionWords }: Props): ReactNode {
  const { currency } = useShop()
  return (
    <dl className="grid grid-cols-[repeat(auto-fill,minmax(7.5rem,1fr))] gap-x-3 gap-y-3 text-sm">
      <Fact term={MEASURES.reached.label}>
        <People
          count={row.reached}
          onPress={() =>
            onPeople({
              measure: 'reached',
              step: row.step,
              title: `${MEASURES.reached.label}: ${row.name}`,
            })
          }
        >
          {row.reached}
        </People>
      </Fact>
      {RATES.map(([measure, of]) => (
        <Fact key={measure} term={MEASURES[measure].label}>
          <People
            count={row[measure]}
            onPress={() =>
              onPeople({
                measure,
                step: row.step,
                title: `${MEASURES[measure].label}: ${row.name}`,
              })
            }
          >
            <Rate did={row[measure]} of={row[of]} />
          </People>
          {measure === 'opened' && row.fetched > 0 && (
            <span className="block text-[10.5px] text-secondary">{row.fetched} by a program</span>
          )}
        </Fact>
      ))}
      <Fact term={MEASURES.revenue.label}>
        <Amount minor={row.revenueMinor} currency={currency} />
      </Fact>
      <div className="col-span-full text-xs">
        <dt className="text-secondary">{MEASURES.notSent.label}</dt>
        <dd>
          <NotSent row={row} onPeople={onPeople} exclusionWords={exclusionWords} />
        </dd>
      </div>
    </dl>
  )
}

function Fact({ term, children }: { term: string; children: ReactNode }): ReactNode {
  return (
    <div>
      <dt className="text-xs text-secondary">{term}</dt>
      <dd className="font-mono text-xs">{children}</dd>
    </div>
  )
}

interface PeopleProps {
  count: number
  onPress: () => void
  children: ReactNode
}

function People({ count, onPress, children }: PeopleProps): ReactNode {
  if (count === 0) return children
  return (
    <button type="button" className="text-left hover:underline" onClick={onPress}>
      {children}
    </button>
  )
}
