import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { PeopleSort, PersonRow } from '../../contract/people.ts'
import { Amount, Time, useShop } from '../ui/data/shop.tsx'
import { DataTable, type DataColumn } from '../ui/table/DataTable.tsx'

/** The page of somebody. */
export const pageOf = (id: string): string => `/people/${encodeURIComponent(id)}`

/** What somebody is called: by their name, else by their address or id. */
export const calledBy = ({ name, email, id }: Pick<PersonRow, 'name' | 'email' | 'id'>): string =>
  name || email || id

const COLUMNS: readonly DataColumn<PersonRow>[] = [
  { id: 'who', head: 'Who', className: 'max-w-60', cell: (row) => <Who row={row} /> },
  { id: 'consent', head: 'Marketing', cell: (row) => <Marketing row={row} /> },
  { id: 'orders', head: 'Orders', isFigure: true, cell: ({ orders }) => orders },
  { id: 'spent', head: 'Spent', isFigure: true, isWide: true, cell: (row) => <Spent row={row} /> },
  { id: 'lastOrder', head: 'Last order', isWide: true, cell: ({ lastOrderAt }) => <Day at={lastOrderAt} /> },
  { id: 'since', head: 'Customer since', isWide: true, cell: ({ createdAt }) => <Day at={createdAt} /> },
  { id: 'country', head: 'Country', isWide: true, cell: ({ country }) => country ?? '–' },
  { id: 'phone', head: 'Phone', isWide: true, className: 'font-mono text-xs whitespace-nowrap', cell: ({ phone }) => phone ?? '–' },
  { id: 'labels', head: 'Lists and tags', isWide: true, className: 'max-w-52', cell: (row) => <Labels row={row} /> },
] // prettier-ignore

/** The columns that can be chosen, with what they are called. Who it is always stands there. */
export const CHOICES = COLUMNS.slice(1).map(({ id, head }) => ({ id, head }))
/** Those that are seen at first. */
export const FIRST_COLUMNS: readonly string[] = ['consent', 'orders', 'spent', 'lastOrder', 'labels'] // prettier-ignore

interface Props {
  people: readonly PersonRow[]
  columns: readonly string[]
}

/** People, one to a line, in the columns that were chosen. */
export function PeopleTable({ people, columns }: Props): ReactNode {
  const shown = COLUMNS.filter(({ id }) => id === 'who' || columns.includes(id))
  return <DataTable<PersonRow> rows={people} columns={shown} idOf={({ id }) => id} />
}

export const SORTS: Readonly<Record<PeopleSort, string>> = {
  lastOrder: 'last order first',
  spent: 'spent most first',
  orders: 'most orders first',
  since: 'newest first',
  name: 'by name',
}

function Who({ row }: { row: PersonRow }): ReactNode {
  return (
    <Link to={pageOf(row.id)} className="group block min-w-0">
      <span className="block truncate font-medium group-hover:underline">{calledBy(row)}</span>
      {row.name !== '' && (
        <span className="block truncate text-xs text-secondary" title={row.email ?? undefined}>
          {row.email ?? 'no address'}
        </span>
      )}
    </Link>
  )
}

const CONSENT = { true: 'yes', false: 'no', null: 'not asked' } as const

function Marketing({ row: { mayEmail, mayText } }: { row: PersonRow }): ReactNode {
  const email = CONSENT[`${mayEmail}`]
  const text = mayText === null ? '' : `, texts ${CONSENT[`${mayText}`]}`
  return (
    <span className={`text-xs whitespace-nowrap ${mayEmail === true ? '' : 'text-secondary'}`}>
      {`email ${email}${text}`}
    </span>
  )
}

function Spent({ row }: { row: PersonRow }): ReactNode {
  return <Amount minor={row.spentMinor} currency={useShop().currency} />
}

const Day = ({ at }: { at: number | null }): ReactNode => (at === null ? '–' : <Time at={at} />)

function Labels({ row: { lists, tags } }: { row: PersonRow }): ReactNode {
  const all = [...lists, ...tags].join(', ')
  return (
    <span className="block truncate text-xs text-secondary" title={all}>
      {all || '–'}
    </span>
  )
}
