import { z } from 'zod'
import { experimentReport } from './experiments.ts'

const forecastDay = z.object({
  /** A calendar date in the shop. */
  date: z.string(),
  expected: z.number(),
  low: z.number(),
  high: z.number(),
})

/** What left on each day, and what will. */
export const sendingResponse = z.object({
  days: z.array(
    z.object({
      date: z.string(),
      marketing: z.int(),
      transactional: z.int(),
      /** What was forecast for it two weeks before the last of these days; null for earlier ones. */
      forecast: forecastDay.omit({ date: true }).nullable(),
    }),
  ),
  ahead: z.array(forecastDay),
})
export type SendingResponse = z.infer<typeof sendingResponse>

/** How the mail of the last four weeks was taken. */
export const healthResponse = z.object({
  sent: z.int(),
  bounced: z.int(),
  complained: z.int(),
  delivered: z.int(),
})

/** How much people get, and what meets in them. */
export const pressureResponse = z.object({
  /** How many people got so many messages in the last week; the last stands for that many and more. */
  perWeek: z.array(z.object({ messages: z.int(), people: z.int() })),
  most: z.array(
    z.object({ customerId: z.string(), name: z.string().nullable(), email: z.string().nullable(), messages: z.int(), marketing: z.int() }),
  ),
  /** Workflows whose marketing met in the same people within a week. */
  meeting: z.array(z.object({ first: z.string(), second: z.string(), people: z.int() })),
}) // prettier-ignore
export type PressureResponse = z.infer<typeof pressureResponse>

/** Second orders by the month of the first one. */
export const cohortsResponse = z.object({
  cohorts: z.array(
    z.object({
      /** `2026-04` */
      month: z.string(),
      people: z.int(),
      /** How many had ordered again so many months after their first, that month included. */
      again: z.array(z.int()),
    }),
  ),
  coupons: z.object({ issued: z.int(), redeemed: z.int(), withinDays: z.array(z.object({ days: z.int(), redeemed: z.int() })) }),
  reviews: z.object({ asked: z.int(), left: z.int() }),
  renewals: z.object({ reminded: z.int(), kept: z.int(), over: z.int() }),
}) // prettier-ignore
export type CohortsResponse = z.infer<typeof cohortsResponse>

/** What marketing has caused, by each holdout of the whole shop, the newest first. */
export const holdoutResponse = z.object({ reports: z.array(experimentReport) })
