import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import type { ReorderRow } from '../../contract/reorders.ts'
import { useReorders } from '../ui/data/useReorders.ts'
import { Time } from '../ui/data/shop.tsx'
import { PageHeading } from '../ui/PageHeading.tsx'
import { Empty, Loading, Problem } from '../ui/states.tsx'
import { DataTable, type DataColumn, type Sort } from '../ui/table/DataTable.tsx'
import { ReorderDetail } from './ReorderDetail.tsx'

/** After how many days each product is bought again, how sure that is, and what came of expecting it. */
export function ReordersPage(): ReactNode {
  const { data, error, refetch } = useReorders()
  const [chosen, setChosen] = useState<string | null>(null)
  if (error) return <Problem error={error} retry={() => void refetch()} />
  if (!data) return <Loading what="reorders" />
  const open = data.rows.find((row) => idOf(row) === chosen) ?? data.rows[0]
  return (
    <div className="mx-auto max-w-6xl p-4">
      <PageHeading title="Reorders" className="text-xl" />
      <p className="mb-3 max-w-3xl text-secondary">
        When your customers buy the same thing again, reckoned from your orders once a week
        {data.reckonedAt !== null && (
          <>
            , last on <Time at={data.reckonedAt} />
          </>
        )}
        . Triggers and waits can go by it: choose the date “expected reorder”, or begin with the{' '}
        <Link className="link" to="/recipes">
          recipe
        </Link>
        .
      </p>
      {open ? (
        <>
          <Table rows={data.rows} open={idOf(open)} onOpen={setChosen} />
          <ReorderDetail key={idOf(open)} row={open} />
        </>
      ) : (
        <div className="panel">
          <Empty title="No product is bought again often enough yet.">
            A product, or the products of a category together, need 20 repeats by the same people,
            at least a day apart.
          </Empty>
        </div>
      )}
    </div>
  )
}

const idOf = ({ kind, key }: ReorderRow): string => `${kind} ${key}`

function Table({
  rows,
  open,
  onOpen,
}: {
  rows: readonly ReorderRow[]
  open: string
  onOpen: (id: string) => void
}): ReactNode {
  const [sort, setSort] = useState<Sort | null>(null)
  return (
    <section
      className="panel mb-4 max-h-[22rem] overflow-auto"
      aria-label="Products that are bought again"
    >
      <DataTable<ReorderRow>
        rows={rows}
        columns={columnsFor(open, onOpen)}
        idOf={idOf}
        sort={sort}
        onSort={setSort}
      />
    </section>
  )
}

function columnsFor(open: string, onOpen: (id: string) => void): DataColumn<ReorderRow>[] {
  return [
    {
      id: 'name',
      head: 'Product',
      sortBy: ({ name }) => name,
      cell: (row) => (
        <button
          type="button"
          className="min-h-6 text-left hover:underline aria-pressed:font-bold"
          aria-pressed={idOf(row) === open}
          onClick={() => onOpen(idOf(row))}
        >
          {row.kind === 'category' ? `Others in ${row.name}` : row.name}
        </button>
      ),
    },
    {
      ...figure('days', 'Half within', ({ interval }) => interval.days),
      cell: ({ interval }) => `${interval.days} days`,
    },
    {
      id: 'sure',
      head: 'Most likely',
      isFigure: true,
      cell: ({ interval: { low, high } }) => `${low} – ${high}`,
    },
    {
      id: 'four',
      head: 'Four in five',
      isFigure: true,
      cell: ({ interval: { soon, late } }) => `${soon} – ${late}`,
    },
    {
      ...figure('again', 'Bought again in a year', ({ interval }) => interval.again.share),
      cell: ({ interval }) => `${Math.round(interval.again.share * 100)} %`,
    },
    figure('repeats', 'Repeats', ({ interval }) => interval.repeats),
    figure('soon', 'Would be asked in 30 days', ({ soon }) => soon),
  ]
}

function figure(
  id: string,
  head: string,
  valueOf: (row: ReorderRow) => number,
): DataColumn<ReorderRow> {
  return { id, head, isFigure: true, startsDown: true, sortBy: valueOf, cell: valueOf }
}
