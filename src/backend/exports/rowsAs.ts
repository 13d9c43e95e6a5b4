import { stringify } from 'csv-stringify'
import { Readable } from 'node:stream'
import type { z } from 'zod'
import type { fileFormat } from '../../contract/exports.ts'

/**
 * Rows as a file, written as they are found and no faster than they are taken. In CSV nothing is a formula, and what is no plain
 * value is JSON.
 */
export function rowsAs(format: z.infer<typeof fileFormat>, rows: AsyncIterable<object>): Readable {
  const source = Readable.from(rows)
  if (format === 'jsonl') return source.map((row: object) => `${JSON.stringify(row)}\n`)
  const file = stringify({
    header: true,
    bom: true,
    escape_formulas: true,
    cast: { boolean: (yes) => (yes ? 'yes' : 'no') },
  })
  source.on('error', (error) => file.destroy(error))
  file.on('close', () => source.destroy())
  return source.pipe(file)
}
