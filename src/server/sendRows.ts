import type { FastifyReply } from 'fastify'
import type { z } from 'zod'
import { rowsAs } from '../backend/exports/index.ts'
import type { fileFormat } from '../contract/exports.ts'

interface RowsFile {
  /** Of the file, without its ending. */
  name: string
  format: z.infer<typeof fileFormat>
  rows: AsyncIterable<object>
}

const TYPES = { csv: 'text/csv; charset=utf-8', jsonl: 'application/x-ndjson' } as const

/** Answers with rows as a file. */
export function sendRows(reply: FastifyReply, { name, format, rows }: RowsFile): FastifyReply {
  return reply
    .header('content-disposition', `attachment; filename="${name}.${format}"`)
    .type(TYPES[format])
    .send(rowsAs(format, rows))
}
