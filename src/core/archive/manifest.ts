import { z } from 'zod'
import { blocksSchema, keptBlocksSchema } from '../blocks/blocks.ts'
import { brandSchema } from '../messages/brand.ts'
import { definitionSchema } from '../workflow/definition.ts'

export const ARCHIVE_VERSION = 1

const id = z.string().min(1).max(100)
const named = z.object({ id, name: z.string().max(300) })

/**
 * What an archive of workflows holds: `archive.json` in a ZIP file, with pictures and files to attach beside it under the paths
 * it names. Everything that the workflows refer to is in it, or named, so that another shop can match it.
 */
export const manifestSchema = z.object({
  format: z.literal('yomble.archive'),
  formatVersion: z.literal(ARCHIVE_VERSION),
  shop: z.string().max(300),
  workflows: z.array(z.object({ id, definition: definitionSchema })).max(1000),
  /** Workflows that are referred to and not in it. */
  otherWorkflows: z.array(named).max(1000),
  products: z.array(z.object({ id, title: z.string().max(300) })).max(10_000),
  groups: z.array(named).max(100),
  kept: z.array(z.object({ id, name: z.string().max(200), blocks: keptBlocksSchema })).max(1000),
  designs: z
    .array(
      z.object({
        name: z.string().max(200),
        subject: z.string(),
        previewText: z.string(),
        blocks: blocksSchema,
      }),
    )
    .max(1000),
  brand: brandSchema.nullable(),
  pictures: z.array(named.extend({ path: z.string().max(300) })).max(2000),
  documents: z.array(named.extend({ path: z.string().max(300) })).max(2000),
})
export type Manifest = z.infer<typeof manifestSchema>
