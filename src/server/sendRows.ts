import { stringify } from 'csv-stringify'
import type { FastifyReply } from 'fastify'
import { Readable } from 'node:stream'
import type { z } from 'zod'
import type { fileFormat } from '../contract/exports.ts'

interface RowsFile {
  /** Of the file, without its ending. */
  name: string
  format: z.infer<typeof fileFormat>
  rows: AsyncIterable<object>
}

/**
 * Answers with rows as a file, written as they are found and no faster than they are taken. In CSV nothing is a formula, and what
 * is no plain value is JSON.
 */
export function sendRows(reply: FastifyReply, { name, format, rows }: RowsFile): FastifyReply {
  const source = Readable.from(rows)
  reply.header('content-disposition', `attachment; filename="${name}.${format}"`)
  if (format === 'jsonl') {
    return reply
      .type('application/x-ndjson')
      .send(source.map((row: object) => `${JSON.stringify(row)}\n`))
  }
  const file = stringify({
    header: true,
    bom: true,
    escape_formulas: true,
    cast: { boolean: (yes) => (yes ? 'yes' : 'no') },
  })
  source.on('error', (error) => file.destroy(error))
  file.on('close', () => source.destroy())
  return reply.type('text/csv; charset=utf-8').send(source.pipe(file))
}
