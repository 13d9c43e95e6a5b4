import type { EventType } from '../../core/events/eventTypes.ts'
import type { CellFormat } from '../../core/imports/cells.ts'
import type { ImportKind, Mapping } from '../../core/imports/kinds.ts'
import { readPast, type PastReading } from '../shop/index.ts'
import { laterStatus, madeOf, orderIdOf, readRow, type FileRow, type Made, type RowProblem, type Told } from '../../core/imports/toEvents.ts' // prettier-ignore

/** How a file is read. */
export interface Reading {
  kind: ImportKind
  mapping: Mapping
  format: CellFormat
  currency: string
  now: number
}

/** All imports have the same source: the same rows are known again, from whichever file they come. */
export const IMPORT_SOURCE = 'yomble:import'

/** Something a file tells, with the rows it was made of; or rows that tell nothing, and why. */
export type Thing =
  | {
      ok: true
      made: Made
      rows: FileRow[]
      /** The events that it comes to, read while the database is at work on others: the first, and how it stands now. */
      read: PastReading[]
    }
  | { ok: false; rows: FileRow[]; problems: RowProblem[] }

/** An order whose rows are still coming. */
interface Open {
  key: string
  rows: FileRow[]
  told: { place: number; told: Told }[]
}

/** What a file tells, thing by thing: each row for itself, but for orders, whose lines stand in rows below each other. */
export async function* thingsIn(
  rows: AsyncIterable<FileRow>,
  reading: Reading,
): AsyncGenerator<Thing> {
  const seen = new Set<string>()
  const now: { open: Open | null } = { open: null }
  const close = (): Thing | null => {
    if (!now.open) return null
    const thing = thingOf(now.open.rows, now.open.told, reading)
    now.open = null
    return thing
  }
  for await (const row of rows) {
    if (row.place === 0) continue
    const { told, problems } = readRow(reading.kind, reading.mapping, reading.format, row)
    if (problems.length > 0) {
      yield { ok: false, rows: [row], problems }
      continue
    }
    if (reading.kind !== 'orders') {
      yield thingOf([row], [{ place: row.place, told }], reading)
      continue
    }
    const key = orderIdOf(told)
    if (now.open?.key === key) {
      now.open.rows.push(row)
      now.open.told.push({ place: row.place, told })
      continue
    }
    const before = close()
    if (before) yield before
    if (seen.has(key)) {
      const message = 'belongs to an order that stands further up: its rows must stand below each other'
      yield { ok: false, rows: [row], problems: [{ place: row.place, at: null, message }] }
      continue
    }
    seen.add(key)
    now.open = { key, rows: [row], told: [{ place: row.place, told }] }
  }
  const last = close()
  if (last) yield last
} // prettier-ignore

function thingOf(rows: FileRow[], told: { place: number; told: Told }[], reading: Reading): Thing {
  const { kind, currency } = reading
  const made = madeOf({ kind, currency, source: IMPORT_SOURCE, now: reading.now }, told)
  if ('message' in made) return { ok: false, rows, problems: [made] }
  if (made.kind !== 'event') return { ok: true, made, rows, read: [] }
  const first = readPast(made.event, reading.now)
  const later = kind === 'orders' ? laterStatus(told[0]?.told ?? {}) : null
  // How an order stands now is told of the same order: it need not be read once more.
  return {
    ok: true,
    made,
    rows,
    read: first.ok && later ? [first, followedBy(first, later)] : [first],
  }
}

/** The event that follows another a second later, about the same. */
function followedBy(
  { timed, ignored }: Extract<PastReading, { ok: true }>,
  type: EventType,
): PastReading {
  const { event, at } = timed
  return {
    ok: true,
    ignored,
    timed: { event: { ...event, id: `${event.id} ${type}`, type }, at: at + 1000 },
  }
}
