import type { ReactNode } from 'react'
import type { PeopleMeasure } from '../../../contract/results.ts'
import { Link } from 'react-router'
import { MEASURES, NOT_SENT_WORDS, type Measure } from '../../../core/words/measures.ts'
import { Amount, useShop } from '../../ui/data/shop.tsx'
import type { DataColumn } from '../../ui/table/DataTable.tsx'
import type { Figure } from './People.tsx'
import { Rate } from '../../ui/figures/Rate.tsx'
import type { MessageRow } from './shownResults.ts'

type Column = DataColumn<MessageRow>
type Counted = Extract<Measure, PeopleMeasure>

export interface ColumnsFor {
  /** Shows the people behind a figure. */
  onPeople: (figure: Figure) => void
  /** The page of one message. */
  pathOf: (step: string) => string
  /** What an exclusion asks, in words. */
  exclusionWords: (key: string) => string
}

/** What is said of each message of a workflow; every figure leads to its people. */
export function columnsFor({ onPeople, exclusionWords, pathOf }: ColumnsFor): readonly Column[] {
  const shown = (row: MessageRow, measure: Counted, figure: ReactNode): ReactNode => (
    <PeopleButton
      count={row[measure as 'sent']}
      onPress={() =>
        onPeople({ measure, step: row.step, title: `${MEASURES[measure].label}: ${row.name}` })
      }
    >
      {figure}
    </PeopleButton>
  )
  const rate = (
    id: Exclude<Counted, 'notSent' | 'reached'>,
    of: 'reached' | 'sent' | 'delivered',
    note?: (row: MessageRow) => ReactNode,
  ): Column =>
    countColumn(
      id,
      (row) => (row[of] === 0 ? undefined : row[id] / row[of]),
      (row) => (
        <>
          {shown(
            row,
            id,
            <Rate
              did={row[id]}
              of={row[of]}
              before={row.before && { did: row.before[id], of: row.before[of] }}
            />,
          )}
          {note?.(row)}
        </>
      ),
    )
  return [
    {
      id: 'place',
      head: 'Message',
      className: 'max-w-64',
      sortBy: ({ place }) => place,
      cell: (row) => <Name {...row} path={pathOf(row.step)} />,
    },
    countColumn('reached', ({ reached }) => reached, (row) => shown(row, 'reached', row.reached)),
    rate('sent', 'reached'),
    rate('delivered', 'sent'),
    rate('opened', 'delivered', ({ fetched }) => fetched > 0 && (
      <span className="block text-[10.5px] text-secondary" title="Fetched within seconds by a program, and not seen again since: it may be that nobody has looked.">
        {fetched} by a program
      </span>
    )),
    rate('clicked', 'delivered'),
    rate('ordered', 'delivered'),
    countColumn('revenue', ({ revenueMinor }) => revenueMinor, ({ delivered, revenueMinor, before }) => (delivered === 0 ? '–' : <Revenue minor={revenueMinor} before={before?.revenueMinor} />)),
    rate('unsubscribed', 'delivered'),
    rate('complained', 'delivered'),
    {
      id: 'notSent',
      head: MEASURES.notSent.label,
      className: 'text-xs min-w-40 max-w-48',
      cell: (row) => <NotSent row={row} onPeople={onPeople} exclusionWords={exclusionWords} />,
    },
  ] // prettier-ignore
}

const countColumn = (
  id: Measure,
  sortBy: (row: MessageRow) => number | undefined,
  cell: (row: MessageRow) => ReactNode,
): Column => ({ id, head: MEASURES[id].label, isFigure: true, startsDown: true, sortBy, cell })

function Name({ name, isGone, ways, path }: MessageRow & { path: string }): ReactNode {
  const where = isGone ? 'in an earlier version' : ways.join(', ')
  return (
    <>
      <Link to={path} className="font-medium hover:underline">
        {name}
      </Link>
      {where !== '' && <span className="block text-xs text-secondary">{where}</span>}
    </>
  )
}

interface PeopleButtonProps {
  count: number
  onPress: () => void
  children: ReactNode
}

/** A figure that leads to its people; one of nobody leads nowhere. */
function PeopleButton({ count, onPress, children }: PeopleButtonProps): ReactNode {
  if (count === 0) return children
  return (
    <button type="button" className="text-right hover:underline" onClick={onPress}>
      {children}
    </button>
  )
}

function Revenue({ minor, before }: { minor: number; before: number | undefined }): ReactNode {
  const { currency } = useShop()
  return (
    <>
      <Amount minor={minor} currency={currency} />
      {before !== undefined && (
        <span className="block text-[10.5px] text-secondary">
          before <Amount minor={before} currency={currency} />
        </span>
      )}
    </>
  )
}

interface NotSentProps extends Omit<ColumnsFor, 'pathOf'> {
  row: Pick<MessageRow, 'step' | 'name' | 'notSent'>
}

/** Why others did not get it, the most frequent reason first. */
export function NotSent({ row, onPeople, exclusionWords }: NotSentProps): ReactNode {
  if (row.notSent.length === 0) return '–'
  return row.notSent.map(({ code, exclusion, count }) => {
    const reason = NOT_SENT_WORDS[code as 'left'] ?? code
    const words = exclusion === null ? reason : `${reason}: ${exclusionWords(exclusion)}`
    const figure = { measure: 'notSent', step: row.step, code, ...(exclusion !== null && { exclusion }), title: `Not sent, ${words}: ${row.name}` } as const // prettier-ignore
    return (
      <button
        key={`${code} ${exclusion}`}
        type="button"
        className="block max-w-full truncate text-left hover:underline"
        title={words}
        onClick={() => onPeople(figure)}
      >
        <span className="font-mono">{count}</span> {words}
      </button>
    )
  })
}
