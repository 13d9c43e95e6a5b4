import { z } from 'zod'
import { contentSchema } from './content.ts'
import { keySchema } from '../shared/key.ts'

/** A language as RFC 5646 writes it: `de`, `pt-BR`. */
export const languageTag = z
  .string()
  .max(35)
  .regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, 'must be a language like de or pt-BR')

/** What a message says in a further language: what is left out is as in its own. */
export const translationSchema = z.strictObject({
  subject: z.string().max(300).optional(),
  previewText: z.string().max(300).optional(),
  body: z.string().max(50_000).optional(),
  /** What its blocks say, by their keys; how they look is the same in every language. */
  blocks: z.record(keySchema, contentSchema).optional(),
})
export type Translation = z.infer<typeof translationSchema>

export const translationsSchema = z
  .record(languageTag, translationSchema)
  .refine((all) => Object.keys(all).length <= 20, 'must be at most 20 languages')
