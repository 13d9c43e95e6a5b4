import { z } from 'zod'

const interval = z.object({
  days: z.int(),
  low: z.int(),
  high: z.int(),
  soon: z.int(),
  late: z.int(),
  again: z.object({ share: z.number(), low: z.number(), high: z.number() }),
  purchases: z.int(),
  repeats: z.int(),
  variation: z.object({ within: z.number(), between: z.number() }).nullable(),
})

const row = z.object({
  kind: z.enum(['product', 'category']),
  /** The product's id, or the category. */
  key: z.string(),
  name: z.string(),
  interval,
  /** Days between the expected day and the next purchase, in the last half year; null where nothing was known before it. */
  check: z
    .object({
      came: z.array(z.object({ days: z.int(), count: z.int() })),
      notYet: z.int(),
    })
    .nullable(),
  /** Who is expected to buy it within the next 30 days. */
  soon: z.int(),
})
export type ReorderRow = z.infer<typeof row>

/** When products are bought again, as the shop's own orders tell. */
export const reordersResponse = z.object({
  /** By the shop clock; null before it was reckoned for the first time. */
  reckonedAt: z.int().nullable(),
  rows: z.array(row),
})
export type ReordersResponse = z.infer<typeof reordersResponse>
