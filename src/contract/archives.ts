import { z } from 'zod'

export const archiveQuery = z.object({
  /** The ids of workflows, with commas between; left out: all, with brand and designs. */
  workflows: z.string().max(20_000).optional(),
})

export const takeArchiveQuery = z.object({
  /** How it would be; nothing of it stays. */
  dry: z.enum(['yes', 'no']).default('no'),
  /** The brand of the other shop takes the place of this one’s. */
  brand: z.enum(['yes', 'no']).default('no'),
})

/** What became of an archive. */
export const archiveReport = z.object({
  /** The shop it comes from. */
  from: z.string(),
  workflows: z.array(z.object({ id: z.string(), name: z.string(), remarks: z.array(z.string()) })),
  pictures: z.int(),
  documents: z.int(),
  kept: z.int(),
  designs: z.int(),
  hasBrand: z.boolean(),
  brand: z.boolean(),
  remarks: z.array(z.string()),
})
export type ArchiveReport = z.infer<typeof archiveReport>
