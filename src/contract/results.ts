import { z } from 'zod'
import { workflowNumbersResponse } from './workflows.ts'

/** How long after they entered it is looked at what people did. */
export const RESULT_WINDOWS = [7, 14, 30, 60, 90] as const

export const resultsQuery = z.object({
  /** Who entered in so many of the last days, unless a time is named. */
  days: z.coerce.number().int().min(1).max(3660).default(90),
  /** Who entered from this moment on, and before that one. */
  from: z.coerce.number().int().min(0).optional(),
  to: z.coerce.number().int().min(0).optional(),
  windowDays: z.coerce.number().int().min(1).max(366).default(30),
  version: z.coerce.number().int().min(1).optional(),
  /** Only those who took a path or arm: its branching step, and its key; without one, the last path. */
  wayStep: z.string().max(100).optional(),
  wayBranch: z.string().max(100).optional(),
  /** Those who entered in the time of the same length before it, too. */
  before: z.stringbool().default(false),
})
export type ResultsQuery = z.infer<typeof resultsQuery>

/** What the people behind a figure have in common. */
export const PEOPLE_MEASURES = [
  'entered', 'reached', 'sent', 'delivered', 'opened', 'fetched', 'clicked', 'ordered', 'replied', 'unsubscribed', 'complained', 'notSent',
] as const // prettier-ignore
export type PeopleMeasure = (typeof PEOPLE_MEASURES)[number]

export const peopleQuery = resultsQuery.extend({
  measure: z.enum(PEOPLE_MEASURES),
  step: z.string().max(100).optional(),
  isWithOpen: z.stringbool().default(false),
  code: z.string().max(100).optional(),
  exclusion: z.string().max(100).optional(),
})

export const resultPerson = z.object({
  runId: z.int(),
  customerId: z.string(),
  name: z.string().nullable(),
  email: z.string().nullable(),
  enteredAt: z.int(),
  sentAt: z.int().nullable(),
  revenueMinor: z.int(),
})
export type ResultPerson = z.infer<typeof resultPerson>

export const messageQuery = resultsQuery.extend({
  step: z.string().max(100),
  isWithOpen: z.stringbool().default(false),
})

const taken = z.object({ at: z.int(), delivered: z.int(), opened: z.int(), clicked: z.int() })

/** How one message was taken, beyond the table. */
export const messageDetail = z.object({
  links: z.array(z.object({ url: z.string(), people: z.int() })),
  /** By the local hour at which it left, 0 to 23. */
  hours: z.array(taken),
  /** By the local weekday, Monday is 1. */
  weekdays: z.array(taken),
  /** By the day on which it left, in the shop. */
  days: z.array(taken.omit({ at: true }).extend({ date: z.string() })),
  /** How many had ordered so many hours after it, whether or not it was the last message; null where nobody has. */
  untilOrder: z
    .object({
      curve: z.array(
        z.object({ hours: z.int(), share: z.number(), low: z.number(), high: z.number() }),
      ),
      /** When so large a share had ordered, and between which times most likely; null for what is not reached. */
      reached: z.array(
        z.object({
          share: z.number(),
          hours: z.int(),
          low: z.int().nullable(),
          high: z.int().nullable(),
        }),
      ),
    })
    .nullable(),
})
export type MessageDetail = z.infer<typeof messageDetail>

export const peopleResponse = z.object({
  people: z.array(resultPerson),
  /** There are more than are listed. */
  hasMore: z.boolean(),
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
  /** Of those: only by a program, within seconds. */
  fetched: z.int(),
  clicked: z.int(),
  replied: z.int(),
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

/** What came of those who took a path or an arm, from then on; of everybody where `step` is empty. */
export const wayResults = z.object({
  step: z.string(),
  /** Null for the last path of a branching step. */
  branch: z.string().nullable(),
  people: z.int(),
  /** They got at least one message. */
  delivered: z.int(),
  opened: z.int(),
  clicked: z.int(),
  /** They ordered at all, for whatever reason. */
  bought: z.int(),
  unsubscribed: z.int(),
  complained: z.int(),
})
export type WayResults = z.infer<typeof wayResults>

/** Step by step, as the timetable shows it. */
const wayThrough = z.object({ numbers: workflowNumbersResponse, ways: z.array(wayResults) })
export type WayThrough = z.infer<typeof wayThrough>

export const resultsResponse = z.object({
  from: z.int(),
  to: z.int(),
  windowDays: z.int(),
  /** Those whose window is over: numerator and denominator are the same people. */
  over: cohortResults,
  /** Those for whom more may still come. */
  open: cohortResults,
  /** Of those whose window is over, and of all. */
  through: z.object({ over: wayThrough, all: wayThrough }),
  /** The same of the time before, of those whose window is over; null where it was not asked for. */
  before: cohortResults.extend({ through: wayThrough }).nullable(),
  /** All that people have entered by. */
  versions: z.array(z.int()),
})
export type ResultsResponse = z.infer<typeof resultsResponse>
