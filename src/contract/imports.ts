import { z } from 'zod'
import { IMPORT_KINDS, type ImportKind } from '../core/imports/kinds.ts'

const kind = z.enum(IMPORT_KINDS as unknown as [ImportKind, ...ImportKind[]])
const counts = z.object({ rows: z.int(), taken: z.int(), known: z.int(), refused: z.int() })
const problem = z.object({ at: z.string().nullable(), message: z.string() })

/** How a file is read: its kind, which column tells what, how cells are written. */
export const importReading = z.object({
  kind,
  mapping: z.record(z.string().max(40), z.int().min(0).max(500)),
  format: z.object({ decimal: z.enum(['.', ',']), dates: z.enum(['dmy', 'mdy']) }),
})
export type ImportReading = z.infer<typeof importReading>

export const importSummary = importReading.extend({
  id: z.string(),
  name: z.string(),
  bytes: z.int(),
  state: z.enum(['uploaded', 'running', 'done', 'failed', 'undone']),
  counts,
  error: z.string().nullable(),
  person: z.string(),
  createdAt: z.int(),
  endedAt: z.int().nullable(),
})
export type ImportSummary = z.infer<typeof importSummary>

export const importDetail = importSummary.extend({
  /** The heads of its columns, and its first rows. */
  heads: z.array(z.string()),
  first: z.array(z.array(z.string())),
})

export const importDryRun = z.object({
  counts,
  refused: z.array(
    z.object({ place: z.int(), cells: z.array(z.string()), problems: z.array(problem) }),
  ),
  isPart: z.boolean(),
})
export type ImportDryRun = z.infer<typeof importDryRun>

export const importUpload = z.object({
  name: z.string().trim().min(1).max(200).default('file.csv'),
})
