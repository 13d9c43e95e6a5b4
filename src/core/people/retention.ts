import { z } from 'zod'

/**
 * What is thrown away once it is old enough: what people looked at and clicked, what was mailed, what was decided, bodies that
 * connections took in and events that were refused, refused rows of files, and people who did nothing any more.
 */
export const RETAINED = ['visits', 'mails', 'ledger', 'arrivals', 'files', 'people'] as const
export type Retained = (typeof RETAINED)[number]

const days = z.int().min(30, 'must be at least 30 days').max(3650).nullable().optional()

/** How many days each is kept; null or left out: as long as `USUALLY_KEPT` says, else for good. */
export const retentionSchema = z.strictObject({
  visits: days,
  mails: days,
  ledger: days,
  arrivals: days,
  files: days,
  people: days,
})
/** In days, where a shop has said nothing. */
export const USUALLY_KEPT: Readonly<Partial<Record<Retained, number>>> = { arrivals: 30 }

export type Retention = z.infer<typeof retentionSchema>
