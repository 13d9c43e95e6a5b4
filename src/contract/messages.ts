import { z } from 'zod'
import { blocksSchema, keptBlocksSchema } from '../core/blocks/blocks.ts'
import { languageTag } from '../core/blocks/translation.ts'
import { tagSyntax } from '../core/messages/foreignTags.ts'
import { brandSchema } from '../core/messages/brand.ts'
import { isMessage, stepsSchema, type MessageStep } from '../core/workflow/steps.ts'
import { triggerSchema } from '../core/workflow/trigger.ts'

/** Blocks to be kept for other messages. */
export const keptBlocksBody = z.object({
  name: z.string().trim().min(1).max(80),
  blocks: keptBlocksSchema,
})
export const keptBlocksResponse = z.array(keptBlocksBody.extend({ id: z.string() }))
export type KeptBlocksResponse = z.infer<typeof keptBlocksResponse>
export const keptBlocksMade = z.object({ id: z.string() })

const sampleRef = z.object({
  customerId: z.string().max(200),
  subjectId: z.string().max(200).nullable(),
  line: z.int().min(0).nullable(),
})
/** Somebody a message can be looked at for, with what it would be about. */
export type SampleRef = z.infer<typeof sampleRef>

export const samplesBody = z.object({
  trigger: triggerSchema,
  /** Part of a name, an address or an order number. */
  search: z.string().trim().max(100).default(''),
})
const sample = sampleRef.extend({
  /** Who it is. */
  name: z.string(),
  /** What it is about: "Order 1001, €42.00". */
  about: z.string(),
  at: z.int(),
})
export type Sample = z.infer<typeof sample>
export const samplesResponse = z.array(sample)

/** One message step of a workflow, as its document has it. */
const messageStep = stepsSchema.transform((steps, context): MessageStep => {
  const [step] = steps
  if (steps.length === 1 && step && isMessage(step)) return step
  context.addIssue({ code: 'custom', message: 'must be one message' })
  return z.NEVER
})

export const previewBody = z.object({
  trigger: triggerSchema,
  /** The message to look at, by itself in a list. */
  message: messageStep,
  /** The shop's brand as it is being changed; left out: as it is. */
  brand: brandSchema.optional(),
  /** For whom; left out: somebody whom the trigger concerned lately. */
  sample: sampleRef.nullable(),
  /** Steps before it that issue a code. */
  hasCoupon: z.boolean().default(false),
  /** With classes by which the blocks are found again in the HTML. */
  marked: z.boolean().default(false),
  /** Which of its languages; left out: that of the one it is for. */
  language: languageTag.optional(),
  /** Merge fields as another system writes them, in place of what they say; left out: filled. */
  tags: tagSyntax.optional(),
})
export const previewResponse = z.object({
  sample: sample.nullable(),
  to: z.string(),
  subject: z.string(),
  previewText: z.string(),
  html: z.string().nullable(),
  text: z.string(),
  /** The size of the HTML. */
  bytes: z.int(),
  /** What each merge field says for this one; those that are unknown are left out. */
  fields: z.record(z.string(), z.string()),
  /** What is worth a thought about it as it is seen, a sentence each. */
  notes: z.array(z.string()),
  /** Why it could not be rendered; the rest is empty then. */
  problem: z.string().nullable(),
})
export type Preview = z.infer<typeof previewResponse>

export const testBody = previewBody.omit({ brand: true, marked: true })
export const testResponse = z.object({ to: z.string() })

/** A whole design to be kept. */
export const designBody = z.object({
  name: z.string().trim().min(1).max(80),
  subject: z.string().max(300),
  previewText: z.string().max(300),
  blocks: blocksSchema.min(1),
})
export type DesignBody = z.infer<typeof designBody>
export const designChange = designBody.extend({ revision: z.int().min(1) })
export const designName = designBody.pick({ name: true })
export const designMade = z.object({ id: z.string(), revision: z.int() })
export const designResponse = designBody.extend({ id: z.string(), revision: z.int() })
export const designsResponse = z.array(
  designResponse.extend({
    /** How many messages are made of it. */
    uses: z.int(),
  }),
)
export type KeptDesign = z.infer<typeof designsResponse>[number]
