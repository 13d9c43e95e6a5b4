import { z } from 'zod'

export const dayCount = z.object({
  what: z.enum(['entered', 'ended', 'sent']),
  workflowId: z.string(),
  /** When the day begins on which they had entered; null where that is longer ago than was looked at. */
  entered: z.number().nullable(),
  marketing: z.boolean(),
  count: z.int(),
})
/** What happened on a day to so many of those who had entered a workflow on another. */
export type DayCount = z.infer<typeof dayCount>
