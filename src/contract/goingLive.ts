import { z } from 'zod'

/** By how many of the last days people are let in who qualified before. */
export const INTAKE_DAYS = [1, 3, 7, 14, 30] as const
const perHour = z.coerce.number().int().min(1).max(100_000)
export const qualifyingQuery = z.object({
  days: z.coerce.number().int().min(1).max(60),
  /** How many are let in within an hour: it says when each has their turn. */
  perHour: perHour.default(100),
})

/** Who comes in, and what the same people get beside it. */
export const beforeLiveResponse = z.object({
  /** By the last 90 days; null where that cannot be said. */
  past: z
    .object({
      people: z.int(),
      entries: z.int(),
      perWeek: z.number(),
      /** It is reckoned from one in so many people, drawn by lot; 1 for all. */
      oneIn: z.int(),
      /** What these people were sent by others in that time. */
      beside: z.array(
        z.object({ workflowId: z.string(), name: z.string(), people: z.int(), messages: z.int() }),
      ),
    })
    .nullable(),
})

export const qualifyingResponse = z.object({
  people: z.int(),
  /** There are more than can be let in at once. */
  hasMore: z.boolean(),
  /** Those who come first. */
  shown: z.array(
    z.object({
      customerId: z.string(),
      name: z.string().nullable(),
      email: z.string().nullable(),
      /** The number of the order, where it is about one. */
      about: z.string().nullable(),
      occasionAt: z.int(),
      /** What they get first, if nothing changes. */
      first: z.object({ step: z.string(), at: z.int() }).nullable(),
      /** Where they get nothing: why the first message is not sent, by the reason’s code. */
      skipped: z.string().nullable(),
    }),
  ),
  turnedAway: z.array(z.object({ code: z.string(), count: z.int() })),
})
export type QualifyingResponse = z.infer<typeof qualifyingResponse>

export const letInBody = z.object({
  days: z.int().min(1).max(60),
  perHour: z.int().min(1).max(100_000),
})
/** Puts everybody in a segment in, so many an hour. */
export const putInBody = z.object({
  segment: z.string().min(1).max(100),
  perHour: z.int().min(1).max(100_000),
})
export const letInResponse = z.object({ people: z.int() })

/** An intake that goes on or is over. */
export const intakeResponse = z.object({
  id: z.int(),
  person: z.string(),
  startedAt: z.int(),
  perHour: z.int(),
  people: z.int(),
  entered: z.int(),
  turnedAway: z.int(),
  endedAt: z.int().nullable(),
  isStopped: z.boolean(),
})
export type IntakeResponse = z.infer<typeof intakeResponse>
export const stoppedResponse = z.object({ stopped: z.int() })
