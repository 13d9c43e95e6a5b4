import { z } from 'zod'
import { CUSTOMER_CHANNELS } from '../core/channels/catalogue.ts'
import { isDuration } from '../core/shared/duration.ts'
import { isTimeOfDay } from '../core/shared/localTime.ts'

const timeOfDay = z.string().refine(isTimeOfDay, 'must be a time like 21:00')

/** What holds for marketing in all workflows of a shop. */
export const shopRules = z.object({
  /** The least time between two marketing messages to one person. */
  messageGap: z.string().refine(isDuration, 'must be a duration like PT24H').nullable(),
  /** At most so many of them to one person in so many days. Left out: as it is. */
  caps: z
    .array(
      z.strictObject({
        channel: z.enum([...CUSTOMER_CHANNELS, 'all']),
        most: z.int().min(1).max(100),
        days: z.int().min(1).max(365),
      }),
    )
    .max(6)
    .optional(),
  quietHours: z
    .strictObject({ from: timeOfDay, to: timeOfDay })
    .refine(({ from, to }) => from !== to, 'must not begin when they end')
    .nullable(),
  /** Where staff look at an order, with {id} in the place of its id. */
  backOfficeUrl: z
    .url({ protocol: /^https?$/ })
    .max(500)
    .refine((url) => url.includes('{id}') || url.includes('%7Bid%7D'), 'must hold {id}')
    .nullable()
    .optional(),
  /** Where customers look at their order, with {id} or {number} in its place. Left out: as it is. */
  orderPageUrl: z
    .url({ protocol: /^https$/ })
    .max(500)
    .refine((url) => /\{(id|number)\}|%7B(id|number)%7D/.test(url), 'must hold {id} or {number}')
    .nullable()
    .optional(),
  /** So many in a hundred people get no marketing at all, to see what it causes. Left out: as it is. */
  holdoutPercent: z.int().min(1).max(50).nullable().optional(),
  /** Among whom they are drawn: those on a list, or those who are in a segment now. Null or left out: everybody. */
  holdoutAmong: z
    .union([
      z.strictObject({ list: z.string().trim().min(1).max(100) }),
      z.strictObject({ segment: z.string().max(100) }),
    ])
    .nullable()
    .optional(),
})
export type ShopRules = z.infer<typeof shopRules>

/** With what hooks are signed by; null until the first one is called. */
export const shopRulesResponse = shopRules.extend({
  hookSecret: z.string().nullable(),
  /** Since when people are held out; null where nobody is. */
  holdoutSince: z.int().nullable(),
})
