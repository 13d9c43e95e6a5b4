import { z } from 'zod'

const ordered = z.object({ people: z.int(), ordered: z.int() })

/** After how many days it is asked how many codes were used. */
export const WITHIN_DAYS = [1, 3, 7, 30] as const

const report = z.object({
  workflowId: z.string(),
  /** The workflow and the step, as they are called now. */
  workflow: z.string(),
  step: z.string(),
  name: z.string(),
  issued: z.int(),
  redeemed: z.int(),
  expired: z.int(),
  revenueMinor: z.int(),
  /** Redeemed within each of `WITHIN_DAYS`. */
  within: z.array(z.int()),
  /** Redeemed by somebody who had never ordered before. */
  firstOrders: z.int(),
  givenAwayMinor: z.int(),
  /** Who got a code, and who was held out of the message that brings it: how many ordered at all in 30 days. */
  anyway: z.object({ got: ordered, heldOut: ordered }),
})

/** What became of the codes of one coupon step, without its names. */
export type CouponReport = Omit<z.infer<typeof report>, 'workflow' | 'name'>

const waiting = z.object({
  customerId: z.string(),
  name: z.string(),
  issued: z.int(),
  redeemed: z.int(),
  lastAt: z.int(),
})

export const couponsResponse = z.object({ steps: z.array(report), waiting: z.array(waiting) })
export type CouponsResponse = z.infer<typeof couponsResponse>

export const codesQuery = z.object({
  /** Milliseconds since 1970: codes issued then or later. */
  since: z.coerce.number().int().min(0).default(0),
})
export const codesResponse = z.object({
  codes: z.array(
    z.object({
      code: z.string(),
      customerId: z.string(),
      discount: z.unknown(),
      terms: z.unknown(),
      issuedAt: z.int(),
      expiresAt: z.int().nullable(),
    }),
  ),
  /** True when there are more: ask again from the last one's moment on. */
  more: z.boolean(),
})
