import { z } from 'zod'

/** How long after they entered it is looked at what people did. */
export const RESULT_WINDOWS = [7, 14, 30, 60, 90] as const

export const resultsQuery = z.object({
  /** Who entered in so many of the last days, unless a time is named. */
  days: z.coerce.number().int().min(1).max(3660).default(90),
  /** Who entered from this moment on, and before that one. */
  from: z.coerce.number().int().min(0).optional(),
  to: z.coerce.number().int().min(0).optional(),
  windowDays: z.coerce.number().int().min(1).max(366).default(30),
})

/** Why a message was not sent to somebody who came to it. */
export const notSentReason = z.object({
  /** The code of the ledger; `left` for those who left there. */
  code: z.string(),
  /** For exclusions: which. */
  exclusion: z.string().nullable(),
  count: z.int(),
})

/** What came of one message. */
export const messageResults = z.object({
  step: z.string(),
  /** They came to it, and it was decided. */
  reached: z.int(),
  /** It was handed over. */
  sent: z.int(),
  /** Of those sent: it did not come back. */
  delivered: z.int(),
  opened: z.int(),
  clicked: z.int(),
  unsubscribed: z.int(),
  complained: z.int(),
  /** People for whose order it was the last message before it. */
  ordered: z.int(),
  orders: z.int(),
  revenueMinor: z.int(),
  notSent: z.array(notSentReason),
})
export type MessageResults = z.infer<typeof messageResults>

/** What came of those who entered in a time and whose window is over, or is not. */
export const cohortResults = z.object({
  entered: z.int(),
  /** Of those: somebody ordered, and a message of this way was the last before it. */
  ordered: z.int(),
  orders: z.int(),
  revenueMinor: z.int(),
  messages: z.array(messageResults),
})
export type CohortResults = z.infer<typeof cohortResults>

export const resultsResponse = z.object({
  from: z.int(),
  to: z.int(),
  windowDays: z.int(),
  /** Those whose window is over: numerator and denominator are the same people. */
  over: cohortResults,
  /** Those for whom more may still come. */
  open: cohortResults,
})
export type ResultsResponse = z.infer<typeof resultsResponse>
