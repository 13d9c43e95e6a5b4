import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { from as copyFrom } from 'pg-copy-streams'
import type { Database } from '../../backend/platform/db.ts'

type Value = string | number | boolean | object | null
export type Row = Readonly<Record<string, Value>>

/** So many rows are handed over at a time; one by one the stream takes longer than the rows. */
const AT_A_TIME = 500

/** Writes rows by COPY, in PostgreSQL's text format. All have the columns of the first. */
export async function copyRows(
  db: Database,
  table: string,
  count: number,
  rowAt: (index: number) => Row,
): Promise<void> {
  if (count === 0) return
  const columns = Object.keys(rowAt(0))
  const client = await db.$client.connect()
  try {
    const into = client.query(copyFrom(`copy ${table} (${columns.join(', ')}) from stdin`))
    await pipeline(Readable.from(linesOf(columns, count, rowAt)), into)
  } finally {
    client.release()
  }
}

function* linesOf(
  columns: readonly string[],
  count: number,
  rowAt: (index: number) => Row,
): Generator<string> {
  for (let from = 0; from < count; from += AT_A_TIME) {
    let lines = ''
    for (let index = from; index < Math.min(from + AT_A_TIME, count); index += 1) {
      const row = rowAt(index)
      lines += `${columns.map((column) => written(row[column] ?? null)).join('\t')}\n`
    }
    yield lines
  }
}

const SPECIAL = /[\\\t\n\r]/
const ESCAPES: Readonly<Record<string, string>> = { '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' } // prettier-ignore

/** A value as COPY's text format has it (PostgreSQL manual, COPY, "Text Format"). */
function written(value: Value): string {
  if (value === null) return String.raw`\N`
  if (typeof value === 'number') return String(value)
  const text = typeof value === 'object' ? JSON.stringify(value) : String(value)
  if (!SPECIAL.test(text)) return text
  return text.replaceAll(/[\\\t\n\r]/g, (character) => ESCAPES[character] ?? character)
}
