import {
  createSortedRowModel,
  FlexRender,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
  type Row as TableRow,
} from '@tanstack/react-table'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useMemo, type ReactNode } from 'react'

/** One column of a table of rows. */
export interface DataColumn<Row> {
  id: string
  head: string
  cell: (row: Row) => ReactNode
  /** What it is sorted by; what has no value stands last, whichever way. Left out: it cannot be. */
  sortBy?: (row: Row) => string | number | undefined
  /** It is sorted from the largest down at first. */
  startsDown?: boolean
  /** Figures stand to the right, below each other. */
  isFigure?: boolean
  /** A phone has no room for it. */
  isWide?: boolean
  /** The head is only read out. */
  hideHead?: boolean
  className?: string
  /** What a cell says when the mouse rests on it. */
  title?: (row: Row) => string | undefined
}

export interface Sort {
  column: string
  down: boolean
}

interface Props<Row extends object> {
  rows: readonly Row[]
  /** Kept the same between renders. */
  columns: readonly DataColumn<Row>[]
  idOf: (row: Row) => string
  /** By what the rows stand; null as they came. Where they are the same, by `thenBy`. */
  sort?: Sort | null
  thenBy?: string
  /** Left out: nobody sorts it. */
  onSort?: (sort: Sort) => void
  /** Rows that stand together under a heading, in the order they came. */
  sectionOf?: ((row: Row) => string) | undefined
}

const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel() })
type Features = typeof features

/** Rows in columns, with heads by which they can be sorted. */
export function DataTable<Row extends object>(props: Props<Row>): ReactNode {
  const { rows, columns, idOf, sort = null, thenBy, onSort, sectionOf } = props
  const sorting = useMemo(() => {
    if (!sort) return []
    const first = { id: sort.column, desc: sort.down }
    return thenBy === undefined || thenBy === sort.column ? [first] : [first, { id: thenBy, desc: false }] // prettier-ignore
  }, [sort, thenBy])
  const table = useTable<Features, Row>({
    features,
    columns: useMemo(() => columns.map(definitionOf), [columns]),
    data: rows,
    getRowId: idOf,
    state: { sorting },
  })
  const sections = sectionsOf(table.getRowModel().rows, sectionOf)
  return (
    <table className="table table-sm">
      <thead>
        <tr>
          {columns.map((column) => (
            <Head key={column.id} column={column} sort={sort} onSort={onSort} />
          ))}
        </tr>
      </thead>
      {[...sections].map(([title, own]) => (
        <tbody key={title}>
          {sectionOf && (
            <tr>
              <th
                scope="rowgroup"
                colSpan={columns.length}
                className="bg-base-200 text-base-content"
              >
                {title}
              </th>
            </tr>
          )}
          {own.map((row) => (
            <tr key={row.id} className="hover:bg-base-200">
              {row.getAllCells().map((cell, index) => (
                <Cell key={cell.id} column={columns[index]} row={row.original}>
                  <FlexRender cell={cell} />
                </Cell>
              ))}
            </tr>
          ))}
        </tbody>
      ))}
    </table>
  )
}

function definitionOf<Row extends object>(column: DataColumn<Row>): ColumnDef<Features, Row> {
  const { id, sortBy, cell } = column
  return {
    id,
    accessorFn: (row: Row) => sortBy?.(row),
    cell: ({ row }) => cell(row.original),
    sortUndefined: 'last',
    sortFn: (a, b) => compared(a.getValue(id), b.getValue(id)),
  }
}

const compared = (a: unknown, b: unknown): number =>
  typeof a === 'number' && typeof b === 'number' ? a - b : String(a).localeCompare(String(b))

function sectionsOf<Row extends object>(
  rows: readonly TableRow<Features, Row>[],
  sectionOf: Props<Row>['sectionOf'],
): Map<string, TableRow<Features, Row>[]> {
  const sections = new Map<string, TableRow<Features, Row>[]>()
  for (const row of rows) {
    const title = sectionOf?.(row.original) ?? ''
    const own = sections.get(title)
    if (own) own.push(row)
    else sections.set(title, [row])
  }
  return sections
}

interface HeadProps<Row> {
  column: DataColumn<Row>
  sort: Sort | null
  onSort: ((sort: Sort) => void) | undefined
}

function Head<Row>({ column, sort, onSort }: HeadProps<Row>): ReactNode {
  const { id, head, startsDown = false } = column
  const sorted = sort?.column === id ? sort : null
  const Arrow = sorted?.down ? ArrowDown : ArrowUp
  return (
    <th
      scope="col"
      className={classOf(column)}
      aria-sort={sorted ? (sorted.down ? 'descending' : 'ascending') : undefined}
    >
      {column.sortBy && onSort ? (
        <button
          type="button"
          className="inline-flex items-center gap-1 whitespace-nowrap hover:underline"
          onClick={() => onSort({ column: id, down: sorted ? !sorted.down : startsDown })}
        >
          {head}
          {sorted && <Arrow size={12} aria-hidden="true" />}
        </button>
      ) : (
        <span className={column.hideHead ? 'sr-only' : 'whitespace-nowrap'}>{head}</span>
      )}
    </th>
  )
}

interface CellProps<Row> {
  column: DataColumn<Row> | undefined
  row: Row
  children: ReactNode
}

function Cell<Row>({ column, row, children }: CellProps<Row>): ReactNode {
  return (
    <td
      className={`${column?.isFigure ? 'font-mono text-xs' : ''} ${column ? classOf(column) : ''}`}
      title={column?.title?.(row)}
    >
      {children}
    </td>
  )
}

const classOf = <Row,>({ isFigure, isWide, className = '' }: DataColumn<Row>): string =>
  `${isFigure ? 'text-right' : ''} ${isWide ? 'max-md:hidden' : ''} ${className}`
