import { z } from 'zod'

/** Where a picture or file is used. */
const use = z.object({
  kind: z.enum(['workflow', 'design', 'keptBlock', 'brand', 'product']),
  /** What it is called; empty for the brand. */
  name: z.string(),
  /** The workflow's id; empty for others. */
  workflow: z.string(),
})
export type FileUse = z.infer<typeof use>

const kept = z.object({
  id: z.string(),
  name: z.string(),
  /** The media type. */
  type: z.string(),
  bytes: z.int(),
  madeAt: z.int(),
  uses: z.array(use),
})
export const libraryResponse = z.object({
  pictures: z.array(kept.extend({ url: z.string(), width: z.int(), height: z.int() })),
  documents: z.array(kept),
})
export type Library = z.infer<typeof libraryResponse>
export type Picture = Library['pictures'][number]
