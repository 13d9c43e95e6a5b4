import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { MEASURES, NOT_SENT_WORDS, type Measure } from '../../../core/words/measures.ts'
import { Amount, useShop } from '../../ui/data/shop.tsx'
import type { DataColumn } from '../../ui/table/DataTable.tsx'
import { Rate } from './Rate.tsx'
import type { MessageRow } from './shownResults.ts'

type Column = DataColumn<MessageRow>

const figure = (
  id: Measure,
  sortBy: (row: MessageRow) => number | undefined,
  cell: (row: MessageRow) => ReactNode,
): Column => ({ id, head: MEASURES[id].label, isFigure: true, startsDown: true, sortBy, cell })

const rate = (
  id: Measure,
  didOf: (row: MessageRow) => number,
  ofOf: (row: MessageRow) => number,
): Column =>
  figure(
    id,
    (row) => (ofOf(row) === 0 ? undefined : didOf(row) / ofOf(row)),
    (row) => <Rate did={didOf(row)} of={ofOf(row)} />,
  )

const delivered = (row: MessageRow): number => row.delivered

/** What is said of each message of a workflow. */
export const columnsFor = (workflowId: string): readonly Column[] => [
  {
    id: 'place',
    head: 'Message',
    className: 'max-w-64',
    sortBy: ({ place }) => place,
    cell: ({ name, isGone, ways }) => {
      const where = isGone ? 'in an earlier version' : ways.join(', ')
      return (
        <>
          <span className="font-medium">{name}</span>
          {where !== '' && <span className="block text-xs text-secondary">{where}</span>}
        </>
      )
    },
  },
  figure('reached', ({ reached }) => reached, ({ reached }) => reached),
  rate('sent', ({ sent }) => sent, ({ reached }) => reached),
  rate('delivered', delivered, ({ sent }) => sent),
  rate('opened', ({ opened }) => opened, delivered),
  rate('clicked', ({ clicked }) => clicked, delivered),
  rate('ordered', ({ ordered }) => ordered, delivered),
  figure('revenue', ({ revenueMinor }) => revenueMinor, ({ delivered: people, revenueMinor }) => (people === 0 ? '–' : <Revenue minor={revenueMinor} />)),
  rate('unsubscribed', ({ unsubscribed }) => unsubscribed, delivered),
  rate('complained', ({ complained }) => complained, delivered),
  {
    id: 'notSent',
    head: MEASURES.notSent.label,
    className: 'text-xs min-w-36',
    cell: ({ notSent }) => <NotSent reasons={notSent} workflowId={workflowId} />,
  },
] // prettier-ignore

function Revenue({ minor }: { minor: number }): ReactNode {
  return <Amount minor={minor} currency={useShop().currency} />
}

interface NotSentProps {
  reasons: MessageRow['notSent']
  workflowId: string
}

/** Why others did not get it, the most frequent reason first. */
function NotSent({ reasons, workflowId }: NotSentProps): ReactNode {
  if (reasons.length === 0) return '–'
  return (
    <Link
      to={`/ledger?workflow=${encodeURIComponent(workflowId)}&show=notSent`}
      className="block hover:underline"
      title="Each of them, in the ledger"
    >
      {reasons.map(({ code, exclusion, count }) => (
        <span key={`${code} ${exclusion}`} className="block">
          <span className="font-mono">{count}</span> {NOT_SENT_WORDS[code as 'left'] ?? code}
          {exclusion !== null && ` (${exclusion})`}
        </span>
      ))}
    </Link>
  )
}
