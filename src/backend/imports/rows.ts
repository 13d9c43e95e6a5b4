import { parse } from 'csv-parse'
import { and, asc, eq, gt } from 'drizzle-orm'
import { Readable } from 'node:stream'
import { TextDecoder } from 'node:util'
import type { FileRow } from '../../core/imports/toEvents.ts'
import type { Db } from '../platform/db.ts'
import { AppError } from '../platform/errors.ts'
import { feedItems, FeedError } from './feed.ts'
import { importPieces } from './tables.ts'

/** A row with more than this is no row: a quote that was never closed, or no file of rows at all. */
const MOST_ROW = 256 * 1024
const MOST_CELLS = 500

async function* piecesOf(db: Db, shopId: string, importId: string): AsyncGenerator<Buffer> {
  let after = -1
  for (;;) {
    const [piece] = await db
      .select({ place: importPieces.place, bytes: importPieces.bytes })
      .from(importPieces)
      .where(
        and(
          eq(importPieces.shopId, shopId),
          eq(importPieces.importId, importId),
          gt(importPieces.place, after),
        ),
      ) // prettier-ignore
      .orderBy(asc(importPieces.place))
      .limit(1)
    if (!piece) return
    after = piece.place
    yield piece.bytes
  }
}

/** The encoding of a file, by its mark or by whether it reads as UTF-8; else that of old spreadsheets. */
export function encodingOf(start: Buffer): 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252' {
  if (start[0] === 0xff && start[1] === 0xfe) return 'utf-16le'
  if (start[0] === 0xfe && start[1] === 0xff) return 'utf-16be'
  // Text of which every other byte is nothing, without a mark.
  if (start.length > 3 && start[1] === 0 && start[3] === 0) return 'utf-16le'
  try {
    // A character may be cut off at the end.
    new TextDecoder('utf-8', { fatal: true }).decode(start, { stream: true })
    return 'utf-8'
  } catch {
    return 'windows-1252'
  }
}

async function* decoded(pieces: AsyncIterable<Buffer>): AsyncGenerator<string> {
  let decoder: TextDecoder | null = null
  for await (const piece of pieces) {
    decoder ??= new TextDecoder(encodingOf(piece))
    yield decoder.decode(piece, { stream: true })
  }
  if (decoder) yield decoder.decode()
}

const DELIMITERS = [',', ';', '\t', '|'] as const

/** What stands between cells: what divides the first line into the most, outside of quotes. */
export function delimiterOf(text: string): string {
  const bare = (text.split(/\r?\n/, 1)[0] ?? '').replaceAll(/"[^"]*"/g, '')
  const counts = DELIMITERS.map((one) => [one, bare.split(one).length] as const)
  return counts.toSorted((a, b) => b[1] - a[1])[0]?.[0] ?? ','
}

/**
 * The rows of a file that is kept, its heads first with place 0: CSV with any of the usual delimiters, JSON Lines, whose first
 * line names the columns, or a product feed (RSS, Atom). Never more than a piece and a row are in memory. Throws AppError `bad_input` for what
 * cannot be read.
 */
export async function* rowsOfFile(
  db: Db,
  shopId: string,
  importId: string,
): AsyncGenerator<FileRow> {
  const texts = decoded(piecesOf(db, shopId, importId))
  const first = await texts.next()
  if (first.done === true) return
  const start = first.value
  const all = (async function* () {
    yield start
    yield* texts
  })()
  const text = start.replace(/^\uFEFF/, '').trimStart()
  if (text.startsWith('{')) yield* jsonRows(all)
  else if (text.startsWith('<')) yield* feedRows(all)
  else yield* csvRows(all, delimiterOf(start))
}

async function* csvRows(texts: AsyncIterable<string>, delimiter: string): AsyncGenerator<FileRow> {
  const parser = parse({
    delimiter,
    bom: true,
    relax_column_count: true,
    relax_quotes: true,
    skip_empty_lines: true,
    max_record_size: MOST_ROW,
  })
  const source = Readable.from(texts)
  source.on('error', (error) => parser.destroy(error))
  source.pipe(parser)
  let place = 0
  try {
    for await (const cells of parser as AsyncIterable<string[]>) {
      yield { place, cells: checked(cells, place) }
      place += 1
    }
  } catch (error) {
    if (error instanceof AppError || !(error instanceof Error) || !('code' in error)) throw error
    throw unreadable(place, 'is no row: a quote may never have been closed')
  } finally {
    source.destroy()
    parser.destroy()
  }
}

async function* jsonRows(texts: AsyncIterable<string>): AsyncGenerator<FileRow> {
  let rest = ''
  let place = 1
  let heads: string[] | null = null
  const rowOf = (line: string): string[] => {
    let value: unknown
    try {
      value = JSON.parse(line)
    } catch {
      throw unreadable(place, 'is not JSON')
    }
    if (typeof value !== 'object' || value === null) throw unreadable(place, 'is no object')
    const record = value as Record<string, unknown>
    heads ??= Object.keys(record)
    return checked(heads.map((head) => cellOf(record[head])), place)
  } // prettier-ignore
  for await (const text of texts) {
    rest += text
    const lines = rest.split('\n')
    rest = lines.pop() ?? ''
    if (rest.length > MOST_ROW) throw unreadable(place, 'is longer than any row')
    for (const line of lines) {
      if (line.trim() === '') continue
      const isFirst = heads === null
      const cells = rowOf(line)
      if (isFirst) yield { place: 0, cells: heads ?? [] }
      yield { place, cells }
      place += 1
    }
  }
  if (rest.trim() === '') return
  const isFirst = heads === null
  const cells = rowOf(rest)
  if (isFirst) yield { place: 0, cells: heads ?? [] }
  yield { place, cells }
}

/** The things of a product feed; the first names the columns. */
async function* feedRows(texts: AsyncIterable<string>): AsyncGenerator<FileRow> {
  let heads: string[] | null = null
  let place = 1
  try {
    for await (const item of feedItems(texts, MOST_ROW)) {
      if (heads === null) {
        // What only later things have is not looked at: feeds of one shop are all alike.
        heads = [...item.keys()]
        yield { place: 0, cells: heads }
      }
      yield { place, cells: checked(heads.map((head) => item.get(head) ?? ''), place) }
      place += 1
    }
  } catch (error) {
    if (error instanceof FeedError) throw unreadable(place, error.message)
    throw error
  }
} // prettier-ignore

const cellOf = (value: unknown): string => {
  if (value === null || value === undefined) return ''
  if (Array.isArray(value)) return value.join(', ')
  return typeof value === 'string' ? value : JSON.stringify(value)
}

function checked(cells: string[], place: number): string[] {
  if (cells.length > MOST_CELLS) throw unreadable(place, `has more than ${MOST_CELLS} cells`)
  // NUL and the like are kept by nothing.
  return cells.map((cell) => cell.replaceAll('\0', ''))
}

const unreadable = (place: number, message: string): AppError =>
  new AppError('bad_input', `This file cannot be read: row ${place} ${message}.`, [{ path: `row ${place}`, message }]) // prettier-ignore

/** The first rows of a file, its heads among them. */
export async function firstRows(
  db: Db,
  shopId: string,
  importId: string,
  most: number,
): Promise<FileRow[]> {
  const rows: FileRow[] = []
  for await (const row of rowsOfFile(db, shopId, importId)) {
    rows.push(row)
    if (rows.length >= most) break
  }
  return rows
}
