import { z } from 'zod'
import { blocksSchema } from '../blocks/blocks.ts'
import { translationsSchema } from '../blocks/translation.ts'
import type { EmailStep } from '../workflow/steps.ts'

/** A designed message by itself, as it travels from one shop or tool to another. */
export const messageFileSchema = z.strictObject({
  format: z.literal('yomble.message'),
  formatVersion: z.literal(1),
  subject: z.string().max(300),
  previewText: z.string().max(300),
  blocks: blocksSchema,
  translations: translationsSchema.optional(),
})
export type MessageFile = z.infer<typeof messageFileSchema>

/** A message as a file: what it says and how it looks, without whom it is for. */
export const messageFile = ({ subject, previewText, blocks = [], translations }: EmailStep): MessageFile => ({
  format: 'yomble.message',
  formatVersion: 1,
  subject,
  previewText,
  blocks,
  ...(translations && { translations }),
}) // prettier-ignore
