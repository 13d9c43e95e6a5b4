import { z } from 'zod'

/** Something that a person has to look at: a message that failed or is unsure, or a run that is stuck. */
export const attentionItem = z.object({
  kind: z.enum(['failed', 'unsure', 'stuck']),
  /** The id of the message; of the run, for one that is stuck. */
  id: z.int(),
  runId: z.int(),
  workflow: z.object({ id: z.string(), name: z.string() }),
  step: z.string(),
  customer: z.object({ id: z.string(), name: z.string(), email: z.string().nullable() }),
  to: z.string().nullable(),
  error: z.string().nullable(),
  at: z.int(),
})
export type AttentionItem = z.infer<typeof attentionItem>

export const repairBody = z.object({ did: z.enum(['tryAgain', 'giveUp']) })
