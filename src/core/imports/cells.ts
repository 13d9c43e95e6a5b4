import { isCalendarDate, instantAt } from '../shared/localTime.ts'
import { parseInstant, type Instant } from '../shared/time.ts'
import type { CellType } from './kinds.ts'

/** How cells of a file are written. */
export interface CellFormat {
  /** What stands before the cents. */
  decimal: '.' | ','
  /** In which order the parts of a date stand where the year is not first. */
  dates: 'dmy' | 'mdy'
  /** The zone of moments that name none. */
  zone: string
}

export type CellValue = string | number | boolean | string[] | null

/** What a cell holds, or why it cannot be read. An empty one is null: nothing is said. */
export type ReadCell = { ok: true; value: CellValue } | { ok: false; message: string }

const good = (value: CellValue): ReadCell => ({ ok: true, value })
const bad = (message: string): ReadCell => ({ ok: false, message })

/** Reads a cell. Amounts come back in hundredths, moments as instants. */
export function readCell(text: string, type: CellType, format: CellFormat): ReadCell {
  // A mark before what a spreadsheet would take for a formula is no part of it.
  const cell = text.trim().replace(/^'(?=[=+\-@＝＋－＠])/, '')
  if (cell === '') return good(null)
  switch (type) {
    case 'text':
      return good(cell)
    case 'names':
      return good(cell.split(/[,;|]/).map((name) => name.trim()).filter((name) => name !== '')) // prettier-ignore
    case 'number':
      return /^\d{1,6}$/.test(cell) ? good(Number(cell)) : bad('must be a whole number')
    case 'yesNo':
      return readYesNo(cell)
    case 'amount':
      return readAmount(cell, format.decimal)
    case 'moment': {
      const at = readMoment(cell, format)
      return at === null ? bad('must be a date like 2026-04-14 or 14.04.2026') : good(at)
    }
  }
}

const YES = new Set(['yes', 'y', 'true', '1', 'ja', 'oui', 'sim', 'si', 'subscribed', 'in stock', 'in_stock', 'on', 'x']) // prettier-ignore
const NO = new Set(['no', 'n', 'false', '0', 'nein', 'non', 'nao', 'não', 'unsubscribed', 'out of stock', 'out_of_stock', 'preorder', 'backorder', 'off']) // prettier-ignore

function readYesNo(cell: string): ReadCell {
  const word = cell.toLowerCase()
  if (YES.has(word)) return good(true)
  return NO.has(word) ? good(false) : bad('must be yes or no')
}

const AMOUNTS = {
  '.': /^-?(\d{1,11}|\d{1,3}(,\d{3})+)(\.\d{1,4})?$/,
  ',': /^-?(\d{1,11}|\d{1,3}(\.\d{3})+)(,\d{1,4})?$/,
} as const

/**
 * "1.234,56", "1,234.56 EUR", "-3.5": in hundredths. What stands between thousands must part three digits, or a point that is
 * meant for the cents would make a hundred times as much of it.
 */
function readAmount(cell: string, decimal: CellFormat['decimal']): ReadCell {
  const bare = cell.replace(/[^\d.,'-]/g, '').replaceAll("'", '')
  if (!AMOUNTS[decimal].test(bare))
    return bad(`must be an amount like 1${decimal === '.' ? ',' : '.'}234${decimal}50`)
  const thousands = decimal === '.' ? ',' : '.'
  return good(Math.round(Number(bare.replaceAll(thousands, '').replace(decimal, '.')) * 100))
}

const YEAR_FIRST = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})(?:[T ](\d{1,2}):(\d{2})(?::\d{2})?)?$/
const YEAR_LAST = /^(\d{1,2})[-/.](\d{1,2})[-/.](\d{4})(?:,?[T ]+(\d{1,2}):(\d{2})(?::\d{2})?)?$/

/** What was read last: the lines of an order all have its date, and a calendar takes its time. */
let last: { cell: string; dates: CellFormat['dates']; zone: string; at: Instant | null } | null =
  null

/** A moment as files write it: RFC 3339, seconds since 1970, or a local date with or without a time. */
export function readMoment(cell: string, format: CellFormat): Instant | null {
  const { dates, zone } = format
  if (last?.cell === cell && last.dates === dates && last.zone === zone) return last.at
  const at = momentOf(cell, format)
  last = { cell, dates, zone, at }
  return at
}

function momentOf(cell: string, { dates, zone }: CellFormat): Instant | null {
  const exact = parseInstant(cell.replace(/^(\d{4}-\d\d-\d\d) (\d\d:\d\d:\d\d) ?([+-]\d\d):?(\d\d)$/, '$1T$2$3:$4')) // prettier-ignore
  if (exact !== null) return exact
  if (/^\d{10}$/.test(cell)) return Number(cell) * 1000
  if (/^\d{13}$/.test(cell)) return Number(cell)
  const first = YEAR_FIRST.exec(cell)
  if (first) return local(first[1], first[2], first[3], first[4], first[5], zone)
  const dayFirst = YEAR_LAST.exec(cell)
  if (!dayFirst) return null
  const [, one, two, year, hour, minute] = dayFirst
  return dates === 'dmy' ? local(year, two, one, hour, minute, zone) : local(year, one, two, hour, minute, zone) // prettier-ignore
}

function local(
  year: string | undefined,
  month: string | undefined,
  day: string | undefined,
  hour: string | undefined,
  minute: string | undefined,
  zone: string,
): Instant | null {
  const two = (part: string | undefined): string => (part ?? '0').padStart(2, '0')
  const date = `${year}-${two(month)}-${two(day)}`
  if (!isCalendarDate(date) || Number(hour ?? 0) > 23 || Number(minute ?? 0) > 59) return null
  // A date without an hour is its noon: a day is never told a day early, wherever it is read.
  return instantAt(date, hour === undefined ? '12:00' : `${two(hour)}:${two(minute)}`, zone)
}

/** How the cells of some rows are written, as far as they tell. */
export function formatOf(samples: readonly string[]): Pick<CellFormat, 'decimal' | 'dates'> {
  const commas = samples.filter((cell) => /\d,\d{1,2}$/.test(cell.trim())).length
  const points = samples.filter((cell) => /\d\.\d{1,2}$/.test(cell.trim())).length
  const parts = samples.flatMap((cell) => {
    const found = YEAR_LAST.exec(cell.trim())
    return found ? [[Number(found[1]), Number(found[2])] as const] : []
  })
  return {
    decimal: commas > points ? ',' : '.',
    dates: parts.some(([, second]) => second > 12) ? 'mdy' : 'dmy',
  }
}
